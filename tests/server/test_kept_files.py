"""Files beside records: what is kept, who sees it, what the buyer gets, what stays as it is."""

from io import BytesIO
from pathlib import Path
from typing import Any
import zipfile

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook
import pytest

from apps.errors import Invalid
from apps.files.kinds import MOST_BYTES, SHOWN, kind_of
from apps.files.models import KeptFile
from apps.journal.models import Change
from apps.orders.models import Order
from apps.quotes.models import Revision
from tests.server.conftest import Caller, World, accepting, as_seen
from tests.server.test_quotes import body_of

PDF = b"%PDF-1.7\n%of the buyer\n"
PNG = b"\x89PNG\r\n\x1a\n" + b"\x00" * 40
DXF = b"  0\nSECTION\n  2\nHEADER\n"


@pytest.fixture(autouse=True)
def _folder(tmp_path: Path, settings: Any) -> None:
    """Each test keeps its files for itself."""
    settings.FILES = tmp_path / "files"


def add(caller: Caller, place: str, name: str = "plan.pdf", body: bytes = PDF, **query: str) -> Any:
    asked = "&".join(f"{key}={value}" for key, value in query.items())
    return caller.client.post(
        f"/api/files/{place}?{asked}", {"file": SimpleUploadedFile(name, body)}
    )


def names(caller: Caller, place: str) -> list[str]:
    return [row["name"] for row in caller("get", f"files/{place}")]


def xlsx() -> bytes:
    out = BytesIO()
    Workbook().save(out)
    return out.getvalue()


def packed(*parts: str) -> bytes:
    out = BytesIO()
    with zipfile.ZipFile(out, "w") as target:
        for part in parts:
            target.writestr(part, "x")
    return out.getvalue()


@pytest.mark.parametrize(
    ("body", "kind"),
    [
        (PDF, "application/pdf"),
        (PNG, "image/png"),
        (b"\xff\xd8\xff\xe0rest", "image/jpeg"),
        (b"RIFF\x00\x00\x00\x00WEBPVP8 ", "image/webp"),
        (b"\x00\x00\x00\x18ftypheic\x00", "image/heic"),
        (b"AC1032drawing", "image/vnd.dwg"),
        (DXF, "image/vnd.dxf"),
        ("Maße: 3 × 4\n".encode(), "text/plain"),
        (packed("word/document.xml"), None),
    ],
)
def test_a_kind_is_told_by_the_content(body: bytes, kind: str | None) -> None:
    found = kind_of(body)
    assert found == kind or (kind is None and found.endswith("wordprocessingml.document"))
    assert kind_of(xlsx()).endswith("spreadsheetml.sheet")


@pytest.mark.parametrize(
    ("body", "code"),
    [
        (b"", "empty_file"),
        (b"<svg xmlns='x'><script>1</script></svg>", "file_kind"),
        (b"\xef\xbb\xbf <html>", "file_kind"),
        (b"MZ\x90\x00", "file_kind"),
        (b"PK\x03\x04broken", "file_kind"),
        (packed("anything.txt"), "file_kind"),
        (packed("xl/workbook.xml", "xl/vbaProject.bin"), "file_kind"),
        (b"x" * (MOST_BYTES + 1), "file_too_large"),
    ],
)
def test_what_is_not_kept_is_refused(body: bytes, code: str) -> None:
    with pytest.raises(Invalid) as refused:
        kind_of(body)
    assert refused.value.code == code


@given(st.binary(max_size=60), st.sampled_from([b"", b" ", b"\n\t", b"\xef\xbb\xbf"]))
def test_nothing_that_begins_as_markup_is_ever_shown(rest: bytes, before: bytes) -> None:
    try:
        found = kind_of(before + b"<" + rest)
    except Invalid:
        return
    assert found not in SHOWN


@pytest.mark.parametrize("kind", ["customer", "deal", "quote", "order"])
def test_a_file_lies_with_its_record_and_is_served_so_that_nothing_in_it_runs(
    world: World, as_ilse: Caller, drafted: Revision, kind: str
) -> None:
    place = place_of(world, as_ilse, drafted, kind)
    answer = add(as_ilse, place, "C:\\drawings\\plan <1>.png", PNG)
    assert answer.status_code == 201, answer.content
    (row,) = as_ilse("get", f"files/{place}")
    assert (row["name"], row["media_type"], row["size"]) == ("plan <1>.png", "image/png", len(PNG))
    served = as_ilse.ask("get", f"kept-files/{row['id']}")
    assert b"".join(served.streaming_content) == PNG
    assert served.headers["Content-Security-Policy"] == "default-src 'none'; sandbox"
    assert served.headers["X-Content-Type-Options"] == "nosniff"
    assert served.headers["Content-Type"] == "image/png"
    assert Change.objects.filter(field="file", after="plan <1>.png").count() == 1
    for person in (world.stranger, world.tomas):
        other = world.call(person)
        assert other.status("get", f"files/{place}") == 404
        assert other.status("get", f"kept-files/{row['id']}") == 404
        assert add(other, place).status_code == 404
    clerk = world.call(world.joren)
    assert clerk.status("get", f"kept-files/{row['id']}") == (200 if kind == "order" else 404)
    assert add(clerk, place).status_code == 403


def place_of(world: World, caller: Caller, drafted: Revision, kind: str) -> str:
    if kind == "order":
        shown = caller("get", f"revisions/{drafted.pk}")
        body = as_seen(shown, close_deal=False)
        return f"order/{caller('post', f'revisions/{drafted.pk}/order-now', body)['id']}"
    keys = {"customer": world.customer.pk, "deal": world.deal.pk, "quote": drafted.pk}
    return f"{kind}/{keys[kind]}"


def test_what_is_not_shown_is_taken_home(as_ilse: Caller, drafted: Revision) -> None:
    add(as_ilse, f"quote/{drafted.pk}", "field.dxf", DXF)
    served = as_ilse.ask("get", f"kept-files/{KeptFile.objects.get().pk}")
    assert served.headers["Content-Disposition"].startswith("attachment")


def test_what_went_with_an_issued_quote_stays_and_the_next_revision_begins_with_it(
    as_ilse: Caller, drafted: Revision
) -> None:
    place = f"quote/{drafted.pk}"
    key = drafted.lines.order_by("position")[0].key
    assert add(as_ilse, place, "post.pdf", line=key).status_code == 201
    assert add(as_ilse, place, "other.pdf", line="nothing").status_code == 404
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(shown))
    (row,) = as_ilse("get", f"files/{place}")
    assert (row["fixed"], row["line_text"]) == (True, "Chestnut post")
    assert add(as_ilse, place).json()["code"] == "files_fixed"
    gone = as_ilse.ask("post", f"kept-files/{row['id']}/removed", {"version": row["version"]})
    assert (gone.status_code, gone.json()["code"]) == (409, "files_fixed")
    issued = as_ilse("get", f"revisions/{drafted.pk}")
    again = as_ilse("post", f"quotes/{issued['quote_id']}/revise")
    (carried,) = as_ilse("get", f"files/quote/{again['id']}")
    assert (carried["name"], carried["fixed"], carried["line"]) == ("post.pdf", False, key)
    as_ilse("post", f"kept-files/{carried['id']}/removed", {"version": carried["version"]})
    assert names(as_ilse, place) == ["post.pdf"]
    assert names(as_ilse, f"quote/{again['id']}") == []


def test_an_order_shows_what_came_with_its_offer(as_ilse: Caller, drafted: Revision) -> None:
    add(as_ilse, f"quote/{drafted.pk}", "offer.pdf")
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    issued = as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(shown))
    made = as_ilse("post", "orders", accepting(issued))
    add(as_ilse, f"order/{made['id']}", "their order.pdf")
    rows = as_ilse("get", f"files/order/{made['id']}")
    assert [(row["name"], row["fixed"], bool(row["of"])) for row in rows] == [
        ("offer.pdf", True, True),
        ("their order.pdf", False, False),
    ]
    assert Order.objects.count() == 1


def test_the_buyer_gets_what_goes_with_the_paper_and_nothing_else(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    place = f"quote/{drafted.pk}"
    add(as_ilse, place, "for them.png", PNG)
    add(as_ilse, place, "ours alone.pdf")
    theirs, ours = as_ilse("get", f"files/{place}")
    body = {"version": theirs["version"], "with_paper": True}
    assert as_ilse("patch", f"kept-files/{theirs['id']}", body)["with_paper"] is True
    assert as_ilse.status("patch", f"kept-files/{theirs['id']}", body) == 409
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(shown))
    path = as_ilse("post", f"revisions/{drafted.pk}/buyer", {})["path"]
    buyer = Client()
    page = buyer.get(path).content.decode()
    assert "for them.png" in page
    assert "ours alone" not in page
    served = buyer.get(f"{path}/files/{theirs['id']}")
    assert b"".join(served.streaming_content) == PNG
    assert buyer.get(f"{path}/files/{ours['id']}").status_code == 404
    assert buyer.get(f"/b/{'x' * 43}/files/{theirs['id']}").status_code == 404
    add(as_ilse, f"customer/{world.customer.pk}")
    lonely = as_ilse("get", f"files/customer/{world.customer.pk}")[0]
    refused = as_ilse.ask("patch", f"kept-files/{lonely['id']}", {"version": 1, "with_paper": True})
    assert (refused.status_code, refused.json()["code"]) == (409, "no_paper_here")


def test_a_file_is_taken_away_and_brought_back(as_ilse: Caller, drafted: Revision) -> None:
    place = f"quote/{drafted.pk}"
    add(as_ilse, place)
    (row,) = as_ilse("get", f"files/{place}")
    gone = as_ilse("post", f"kept-files/{row['id']}/removed", {"version": row["version"]})
    assert names(as_ilse, place) == []
    back = {"version": gone["version"], "removed": False}
    as_ilse("post", f"kept-files/{row['id']}/removed", back)
    assert names(as_ilse, place) == ["plan.pdf"]


def test_the_same_content_lies_once_and_a_draft_that_goes_takes_its_rows(
    as_ilse: Caller, drafted: Revision, settings: Any
) -> None:
    place = f"quote/{drafted.pk}"
    add(as_ilse, place, "one.pdf")
    add(as_ilse, place, "two.pdf")
    assert len([each for each in Path(settings.FILES).rglob("*") if each.is_file()]) == 1
    saved = as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted))
    assert as_ilse.status("delete", f"revisions/{drafted.pk}", None, version=saved["version"]) < 300
    assert not KeptFile.objects.exists()


def test_a_file_that_is_too_large_is_refused_before_it_is_read(
    as_ilse: Caller, drafted: Revision
) -> None:
    answer = add(as_ilse, f"quote/{drafted.pk}", "huge.pdf", PDF + b"x" * 15_200_000)
    assert (answer.status_code, answer.json()["code"]) == (413, "too_big")
