"""A mail is read into lines of this house's goods; words that people keep name items from then on."""

from collections.abc import Callable
import json

from django.db import connection
import pytest

from apps.catalogue.called import goods, keep_word
from apps.catalogue.models import Item, ItemWord
from demo.catalogue import ITEMS, SOLD_IN
from demo.ranges import as_rows
from demo.words import words_of
from ops.corpus import FOLDER
from tests.server.conftest import Caller, World

MAIL = "Dear Ilse,\nplease send 12 chestnut posts and 3 rolls of galvanised wire.\nWe do not need the nets.\n\nRegards\nMab"


@pytest.fixture(autouse=True)
def _named(world: World) -> None:
    ItemWord.objects.create(item=world.post, word="Kastanienpfahl")


def test_a_mail_becomes_lines_of_items_with_their_units(world: World, as_ilse: Caller) -> None:
    read = as_ilse("post", "items/read-mail", {"text": MAIL, "customer_id": world.customer.pk})
    assert [
        (line["quantity"], line["unit"], line["meant"][0]["item"]["code"], line["doubts"])
        for line in read["lines"]
    ] == [("12", "H87", "POST-25", []), ("3", "RL", "WIRE-2", [])]
    assert [part["why"] for part in read["left_out"]] == ["signature"]
    assert read["language"] == "en"


def test_a_word_of_the_house_names_its_item(world: World, as_ilse: Caller) -> None:
    [line] = as_ilse("post", "items/read-mail", {"text": "20 Kastanienpfähle bitte"})["lines"]
    assert (line["meant"][0]["item"]["code"], line["doubts"]) == ("POST-25", [])


def test_a_correction_that_is_kept_names_the_item_in_the_next_mail(
    world: World, as_ilse: Caller
) -> None:
    text = {"text": "20 brown stakes please"}
    assert as_ilse("post", "items/read-mail", text)["lines"] == []
    kept = as_ilse("post", f"items/{world.post.pk}/words", {"word": "  brown   stakes "})
    assert (kept["word"], kept["by"], kept["mine"]) == ("brown stakes", world.ilse.name, True)
    [line] = as_ilse("post", "items/read-mail", text)["lines"]
    assert (line["meant"][0]["item"]["id"], line["doubts"]) == (world.post.pk, [])
    assert as_ilse.status("delete", f"item-words/{kept['id']}") == 204
    assert as_ilse("post", "items/read-mail", text)["lines"] == []


def test_a_word_is_taken_away_by_who_kept_it_or_an_administrator(world: World) -> None:
    own = keep_word(world.ilse, world.post.pk, "brown stakes")
    shipped = ItemWord.objects.get(word="Kastanienpfahl")
    tomas, admin = world.call(world.tomas), world.call(world.admin)
    assert tomas.status("delete", f"item-words/{own.pk}") == 404
    assert world.call(world.ilse).status("delete", f"item-words/{shipped.pk}") == 404
    assert admin.status("delete", f"item-words/{shipped.pk}") == 204
    assert (
        world.call(world.joren).status("post", f"items/{world.post.pk}/words", {"word": "pale"})
        == 403
    )


@pytest.mark.parametrize("word", ["", "12", "a b", "x" * 121])
def test_a_word_of_few_letters_is_refused(world: World, as_ilse: Caller, word: str) -> None:
    assert as_ilse.status("post", f"items/{world.post.pk}/words", {"word": word}) == 422
    assert ItemWord.objects.filter(item=world.post).count() == 1


def test_the_same_word_is_kept_once(world: World, as_ilse: Caller) -> None:
    for _ in range(2):
        as_ilse("post", f"items/{world.post.pk}/words", {"word": "Brown stake"})
    assert ItemWord.objects.filter(word__iexact="brown stake").count() == 1


def test_an_item_that_is_sold_no_more_is_read_no_more(world: World, as_ilse: Caller) -> None:
    text = {"text": "12 chestnut posts"}
    assert as_ilse("post", "items/read-mail", text)["lines"]
    world.post.active = False
    world.post.save()
    assert as_ilse("post", "items/read-mail", text)["lines"] == []


def test_one_item_in_the_place_of_another_is_noticed(world: World, as_ilse: Caller) -> None:
    text = {"text": "12 chestnut posts, 3 rolls galvanised wire"}
    Item.objects.filter(pk=world.wire.pk).update(active=False)
    [line] = as_ilse("post", "items/read-mail", text)["lines"]
    assert line["meant"][0]["item"]["code"] == "POST-25"
    Item.objects.filter(pk=world.post.pk).update(active=False)
    Item.objects.filter(pk=world.wire.pk).update(active=True)
    [line] = as_ilse("post", "items/read-mail", text)["lines"]
    assert line["meant"][0]["item"]["code"] == "WIRE-2"


def test_a_customer_of_somebody_else_tells_nothing(world: World) -> None:
    stranger = world.call(world.stranger)
    read = stranger("post", "items/read-mail", {"text": MAIL, "customer_id": world.customer.pk})
    assert [line["agreement"] for line in read["lines"]] == ["", ""]


def test_reading_asks_the_same_whatever_the_mail_holds(
    world: World, as_ilse: Caller, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    goods()

    def many(text: str) -> int:
        body = {"text": text, "customer_id": world.customer.pk}
        return queries_of(lambda: as_ilse("post", "items/read-mail", body))

    assert many("12 chestnut posts") == many(MAIL + "\n5 rolls galvanised wire\n" * 9) <= 16
    assert connection.in_atomic_block


@pytest.mark.parametrize(
    "text",
    ["\x00\x01", "<script>12 posts</script>", "٣ posts", "1" * 5000 + " posts", "((((" * 500],
)
def test_odd_text_is_read_or_refused_and_breaks_nothing(as_ilse: Caller, text: str) -> None:
    assert as_ilse.status("post", "items/read-mail", {"text": text}) in (200, 422)


def test_the_corpus_speaks_of_the_demos_goods() -> None:
    rows = [
        {
            "code": code,
            "called": [name, *words_of(code)],
            "base": unit,
            "sold_in": SOLD_IN.get(code, unit),
            "units": units,
        }
        for code, name, _, unit, units, *_ in [*ITEMS, *as_rows()]
    ]
    assert json.loads((FOLDER / "items.json").read_text()) == rows
