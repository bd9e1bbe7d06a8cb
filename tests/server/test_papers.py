"""The quote on paper: two papers, templates that an administrator changes, and a way back."""

import base64
from io import BytesIO
from typing import Any

import pypdf
import pytest

from apps.customers.models import Customer
from apps.papers import setting
from apps.papers.look import Look
from apps.papers.models import TemplateEdition
from apps.quotes.models import QuotePaper, Revision
from tests.server.conftest import Caller, World, as_seen
from tests.server.test_quotes import body_of

LOOK = Look(columns=("unit", "price")).as_data()


def words_of(pdf: bytes) -> str:
    """The text of a PDF."""
    return " ".join(page.extract_text() for page in pypdf.PdfReader(BytesIO(pdf)).pages)


@pytest.fixture
def admin(world: World, drafted: Revision) -> Caller:
    """The administrator, in a house with one drafted quote."""
    return world.call(world.admin)


def edition(**changes: Any) -> dict[str, Any]:
    """A template as the page sends it."""
    return {"look": LOOK, "wording": {}, "source": "", "based_on": 0, **changes}


def test_the_detailed_paper_tells_how_a_price_came_about(
    as_ilse: Caller, drafted: Revision
) -> None:
    short = words_of(as_ilse.ask("get", f"revisions/{drafted.pk}/pdf").content)
    detailed = words_of(as_ilse.ask("get", f"revisions/{drafted.pk}/pdf", paper="detailed").content)
    assert "List price" not in short and "1 roll = 100 metre" not in short
    assert "List price 41.50 per piece" in detailed and "1 roll = 100 metre" in detailed
    assert "Cost" not in detailed and "21.1" not in detailed


def test_a_quote_goes_out_on_the_paper_that_was_chosen(as_ilse: Caller, drafted: Revision) -> None:
    answer = as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted, paper="detailed"))
    as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(answer))
    kept = QuotePaper.objects.get(revision=drafted)
    assert "List price" in words_of(bytes(kept.pdf))


def test_an_edition_changes_what_is_printed_and_there_is_a_way_back(
    admin: Caller, drafted: Revision
) -> None:
    wording = {"en": {"closing": "Delivered by {name}."}, "de": {"closing": "Gruß"}}
    made = admin("post", "papers/short", edition(wording=wording, remark="A closing line"))
    assert made["number"] == 1
    text = words_of(admin.ask("get", f"revisions/{drafted.pk}/pdf").content)
    assert "Delivered by Ilse" in text and "WIRE-2" not in text
    assert admin("post", "papers/short/back", {"based_on": 1, "to": 0})["number"] == 2
    text = words_of(admin.ask("get", f"revisions/{drafted.pk}/pdf").content)
    assert "Delivered by" not in text and "WIRE-2" in text
    editions = admin("get", "papers")["papers"][0]["editions"]
    assert [row["number"] for row in editions] == [2, 1, 0]


def test_what_left_the_house_does_not_change_with_the_template(
    admin: Caller, issued: Revision
) -> None:
    before = admin.ask("get", f"revisions/{issued.pk}/pdf").content
    admin("post", "papers/short", edition(wording={"en": {"closing": "New"}}))
    assert admin.ask("get", f"revisions/{issued.pk}/pdf").content == before


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ({"look": {**LOOK, "accent": "red"}}, "look.accent"),
        ({"look": {**LOOK, "size": "400"}}, "look.size"),
        ({"look": {**LOOK, "columns": ["cost"]}}, "look.columns"),
        ({"wording": {"en": {"hold": "{until.__class__}"}}}, "wording.en.hold"),
        ({"wording": {"en": {"hold": "{until"}}}, "wording.en.hold"),
        ({"wording": {"en": {"price": "Cheap"}}}, "wording.en.price"),
        ({"wording": {"xx": {"hold": "x"}}}, "wording"),
        ({"source": "#unknown-thing"}, "source"),
        ({"source": '#read("/etc/hostname")'}, "source"),
        ({"source": '#import "@preview/some:0.1.0": *'}, "source"),
    ],
)
def test_a_template_that_cannot_be_set_is_refused_at_its_place(
    admin: Caller, changes: dict[str, Any], path: str
) -> None:
    answer = admin.ask("post", "papers/short", edition(**changes))
    assert answer.status_code == 422
    assert answer.json()["path"] == path
    assert not TemplateEdition.objects.exists()


def test_a_template_that_never_ends_is_stopped(
    admin: Caller, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(setting, "LONGEST_SECONDS", 1)
    endless = (
        "#let f(n, m) = if n == 0 { m } else { f(n - 1, 2 * m) + f(n - 1, 2 * m + 1) }\n#f(40, 1)"
    )
    answer = admin.ask("post", "papers/trial", {"look": LOOK, "source": endless})
    assert answer.status_code == 422
    assert (answer.json()["code"], answer.json()["path"]) == ("endless", "source")


def test_a_trial_shows_pages_and_keeps_nothing(admin: Caller, drafted: Revision) -> None:
    body = {"look": LOOK, "language": "de", "revision_id": drafted.pk}
    pages = admin("post", "papers/trial", body)["pages"]
    assert base64.b64decode(pages[0]).startswith(b"\x89PNG")
    assert not TemplateEdition.objects.exists()


def test_two_administrators_do_not_overwrite_each_other(admin: Caller) -> None:
    assert admin.status("post", "papers/short", edition()) == 201
    assert admin.status("post", "papers/short", edition()) == 409


def test_only_an_administrator_keeps_templates(as_ilse: Caller, drafted: Revision) -> None:
    assert as_ilse.status("get", "papers") == 403
    assert as_ilse.status("post", "papers/short", edition()) == 403
    assert as_ilse.status("post", "papers/trial", {"look": LOOK}) == 403


@pytest.mark.parametrize(("language", "word"), [("en", "DRAFT"), ("de", "ENTWURF")])
def test_the_paper_of_a_draft_says_so_across_every_page_until_it_is_issued(
    as_ilse: Caller, drafted: Revision, language: str, word: str
) -> None:
    Customer.objects.filter(pk=drafted.quote.customer_id).update(language=language)

    def pages() -> list[str]:
        pdf = as_ilse.ask("get", f"revisions/{drafted.pk}/pdf").content
        return [page.extract_text() for page in pypdf.PdfReader(BytesIO(pdf)).pages]

    assert all(word in page for page in pages())
    as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(drafted))
    assert not any(word in page for page in pages())
