"""Mails read into lines, and the words by which items are named in them."""

from datetime import timedelta
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import StringConstraints

from api.catalogue import ItemOut, item_out
from api.schemas import Schema
from api.shapes import Id, PathId, today, who
from apps.calloffs.facts import running_agreements
from apps.catalogue.called import goods, keep_word, take_word_away
from apps.catalogue.models import Item, ItemWord
from apps.catalogue.queries import items_shown, unit_names
from apps.orders.models import OrderLine
from apps.people.access import owned, pick
from apps.people.models import ADMIN, User
from routecore.casefile.words import plain
from routecore.reading.mails import MailLine, read_mail

router = Router(tags=["catalogue"])
#: A mail that is read has so many signs at most.
LONGEST = 100_000
#: What a customer ordered in so many days is usual; so many of its lines are looked at.
USUAL_DAYS, USUAL_LINES = 730, 2_000


class MailTextIn(Schema):
    """A mail's text; of a customer, whose usual items come first and whose agreements are named."""

    text: Annotated[str, StringConstraints(max_length=LONGEST)]
    customer_id: Id | None = None


class MeantOut(Schema):
    """An item that may be meant, and how much of what was written names it, in percent."""

    item: ItemOut
    share: int


class MailLineOut(Schema):
    """A line that a mail asks for: the sentence, the words that name the item in it, and what is in doubt: ``item``,
    ``quantity``, ``unit``, ``wanted``; nothing where it is sure. ``others``: other readings of the number."""

    number: int
    sentence: str
    words: str
    quantity: str | None
    others: list[str]
    unit: str
    meant: list[MeantOut]
    doubts: list[str]
    agreement: str


class MailAsideOut(Schema):
    """A sentence that makes no line: ``refused``, ``told`` or ``unknown``."""

    why: str
    sentence: str


class LeftOutOut(Schema):
    """A part that was not read: ``quoted``, ``signature`` or ``small_print``."""

    why: str
    text: str


class MailReadingOut(Schema):
    """A mail, read."""

    language: str
    lines: list[MailLineOut]
    asides: list[MailAsideOut]
    left_out: list[LeftOutOut]


def usual_items(person: User, customer_id: int | None) -> set[int]:
    """What a customer of this person's ordered lately. One query."""
    if customer_id is None:
        return set()
    rows = OrderLine.objects.filter(
        owned(person, "order__owner"),
        order__customer_id=customer_id,
        order__accepted_on__gte=today() - timedelta(days=USUAL_DAYS),
        item__isnull=False,
    )
    return set(rows.order_by("-pk").values_list("item_id", flat=True)[:USUAL_LINES])


@router.post("/items/read-mail", response=MailReadingOut, operation_id="read_mail")
def read(request: HttpRequest, data: MailTextIn) -> MailReadingOut:
    """A mail's text, read into lines. Nothing is stored, nothing is taken over. Ten queries at most."""
    person = who(request)
    reading = read_mail(data.text, goods(), usual=usual_items(person, data.customer_id))
    keys = {meant.item for line in reading.lines for meant in line.items}
    items = items_shown().in_bulk(keys)
    names = unit_names()
    running = running_agreements(person, data.customer_id, today())
    agreements = {row.item_id: row.number for row in reversed(running)}
    return MailReadingOut(
        language=reading.language,
        lines=[_line(n, line, items, names, agreements) for n, line in enumerate(reading.lines, 1)],
        asides=[MailAsideOut(why=row.why, sentence=row.sentence) for row in reading.asides],
        left_out=[LeftOutOut(why=row.why, text=row.text) for row in reading.left_out],
    )


def _line(
    n: int,
    line: MailLine,
    items: dict[int, Item],
    names: dict[str, str],
    agreements: dict[int, str],
) -> MailLineOut:
    return MailLineOut(
        number=n,
        sentence=line.sentence,
        words=" ".join(line.words.split()),
        quantity=plain(line.quantity),
        others=[plain(other) or "" for other in line.others],
        unit=line.unit,
        meant=[
            MeantOut(item=item_out(items[each.item], names), share=each.share)
            for each in line.items
            if each.item in items
        ],
        doubts=list(line.doubts),
        agreement=agreements.get(line.items[0].item, ""),
    )


class ItemWordOut(Schema):
    """A word that names an item in a mail; ``by`` is empty where it came with the catalogue."""

    id: int
    word: str
    by: str
    mine: bool


class ItemWordIn(Schema):
    """A word, or several, that a buyer uses."""

    word: Annotated[str, StringConstraints(min_length=1, max_length=120)]


def _word(row: ItemWord, person: User) -> ItemWordOut:
    mine = row.by_id == person.pk or person.role == ADMIN
    return ItemWordOut(id=row.pk, word=row.word, by=row.by.name if row.by else "", mine=mine)


@router.get("/items/{item_id}/words", response=list[ItemWordOut], operation_id="item_words")
def words(request: HttpRequest, item_id: PathId) -> list[ItemWordOut]:
    """What else an item is called. Two queries."""
    item = pick(Item.objects.all(), item_id, "item")
    return [_word(row, who(request)) for row in item.words.select_related("by")]


@router.post("/items/{item_id}/words", response={201: ItemWordOut}, operation_id="keep_item_word")
def keep(request: HttpRequest, item_id: PathId, data: ItemWordIn) -> Status[ItemWordOut]:
    """From now on this word names the item in mails."""
    person = who(request)
    return Status(201, _word(keep_word(person, item_id, data.word), person))


@router.delete("/item-words/{word_id}", response={204: None}, operation_id="take_item_word_away")
def take_away(request: HttpRequest, word_id: PathId) -> Status[None]:
    """The word names the item no more: one's own, or as an administrator anybody's."""
    take_word_away(who(request), word_id)
    return Status(204, None)
