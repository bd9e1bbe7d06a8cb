"""What the items are called, for reading mails: their names, and the words that people keep for them."""

from decimal import Decimal
from functools import lru_cache

from django.db import transaction
from django.db.models import Count, Max, Sum

from apps.catalogue.models import Item, ItemUnit, ItemWord
from apps.errors import Invalid
from apps.people.access import pick, sells
from apps.people.models import ADMIN, User
from routecore.reading.goods import Good, Goods

#: An item has so many words of its own.
MOST_WORDS = 60
LEAST_LETTERS = 3


def goods() -> Goods:
    """The items that are sold, ready to be found in a text. Three queries; three more where they have changed."""
    return _goods(_stamp())


def _stamp() -> tuple[object, ...]:
    """What changes when an item, a unit or a word does."""
    items = Item.objects.filter(active=True).aggregate(
        n=Count("pk"), keys=Sum("pk"), last=Max("pk"), v=Sum("version")
    )
    units = ItemUnit.objects.aggregate(n=Count("pk"), last=Max("pk"), sum=Sum("factor"))
    words = ItemWord.objects.aggregate(n=Count("pk"), last=Max("pk"))
    return (*items.values(), *units.values(), *words.values())


@lru_cache(maxsize=2)
def _goods(stamp: tuple[object, ...]) -> Goods:
    words: dict[int, list[str]] = {}
    for item, word in ItemWord.objects.values_list("item", "word"):
        words.setdefault(item, []).append(word)
    units: dict[int, dict[str, Decimal]] = {}
    for item, unit, factor in ItemUnit.objects.values_list("item", "unit", "factor"):
        units.setdefault(item, {})[unit] = factor
    rows = Item.objects.filter(active=True)
    return Goods(
        Good(
            key=key,
            code=code,
            called=(name, *words.get(key, ())),
            base=base,
            sold_in=sold_in,
            units=units.get(key, {}),
        )
        for key, code, name, base, sold_in in rows.values_list(
            "pk", "code", "name", "base_unit", "sales_unit"
        )
    )


@transaction.atomic
def keep_word(who: User, item_id: int, word: str) -> ItemWord:
    """From now on this word names the item. One that it has already is left as it is."""
    sells(who)
    item = pick(Item.objects.select_for_update().filter(active=True), item_id, "item")
    said = " ".join(word.split())
    if sum(sign.isalpha() for sign in said) < LEAST_LETTERS:
        raise Invalid("too_short", path="word", facts={"least": LEAST_LETTERS})
    if item.words.count() >= MOST_WORDS:
        raise Invalid("too_many", path="word", facts={"what": "item_words", "most": MOST_WORDS})
    kept, _ = ItemWord.objects.get_or_create(item=item, word=said, defaults={"by": who})
    return kept


@transaction.atomic
def take_word_away(who: User, word_id: int) -> None:
    """The word names the item no more: one's own, or as an administrator anybody's."""
    sells(who)
    rows = ItemWord.objects.select_for_update()
    pick(rows if who.role == ADMIN else rows.filter(by=who), word_id, "item_word").delete()
