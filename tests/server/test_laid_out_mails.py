"""A mail as its writer laid it out: cleaned, in a page that can do nothing, its pictures outside until they are asked for."""

from email.message import EmailMessage

from hypothesis import given, settings
from hypothesis import strategies as st
import pytest

from apps.customers.models import Contact
from apps.mail.layout_reader import cleaned, outside
from apps.mail.models import LAID_OUT, PLAIN, Received
from apps.mail.showing import layout_of
from tests.server.conftest import Caller, World
from tests.server.letters import came, mail

pytestmark = pytest.mark.usefixtures("files_aside")
PICTURE = '<img src="https://grower.example/seen.png" alt="Arms">'


def laid_out(markup: str) -> EmailMessage:
    made = mail()
    made.add_alternative(markup, subtype="html")
    return made


def kept(markup: str) -> Received:
    row = came(laid_out(markup))
    assert row
    return row


def shown(caller: Caller, row: Received, **asked: object) -> str:
    page: str = caller.ask("get", f"arrived-mails/{row.pk}/page", **asked).content.decode()
    return page


def test_tables_and_type_stay_and_pictures_from_elsewhere_wait_to_be_asked_for(
    world: World, as_ilse: Caller, maren: Contact
) -> None:
    row = kept(f"<table><tr><td width=80>12 rolls</td></tr></table><b>soon</b>{PICTURE}")
    told = as_ilse("get", f"arrived-mails/{row.pk}")
    assert (told["laid_out"], told["pictures"]) == (True, True)
    page = shown(as_ilse, row)
    assert '<td width="80">12 rolls</td>' in page
    assert "<b>soon</b>" in page
    assert "seen.png" not in page
    assert 'src="https://grower.example/seen.png"' in shown(as_ilse, row, pictures=True)


@pytest.mark.parametrize(
    "bad",
    [
        "<script>alert(1)</script>",
        '<img src="x" onerror="alert(1)">',
        '<a href="javascript:alert(1)">here</a>',
        '<iframe src="https://grower.example"></iframe>',
        '<form action="https://grower.example"><input name=password></form>',
        '<p style="position:fixed;background:url(https://grower.example/seen.png)">',
        '<link rel=stylesheet href="https://grower.example/seen.css">',
        '<meta http-equiv=refresh content="0;url=https://grower.example">',
        '<base href="https://grower.example">',
        '<svg onload="alert(1)"><use href="https://grower.example/a.svg#x"/></svg>',
        '<img src="http://grower.example/seen.png">',
        '<img srcset="https://grower.example/seen.png 2x">',
        '<video poster="https://grower.example/seen.png"></video>',
        '<table background="https://grower.example/seen.png"><tr><td>a</table>',
        "<style>@import url(https://grower.example/seen.css)</style>",
    ],
)
def test_nothing_of_it_runs_asks_or_goes_out(
    world: World, as_ilse: Caller, maren: Contact, bad: str
) -> None:
    row = kept(f"<p>Words</p>{bad}")
    page = shown(as_ilse, row, pictures=True)
    assert "Words" in page
    assert "alert" not in page
    assert "grower.example" not in page
    assert row.layout == LAID_OUT


def test_its_page_may_do_nothing_but_show_words(
    world: World, as_ilse: Caller, maren: Contact
) -> None:
    row = kept(PICTURE)
    path = f"arrived-mails/{row.pk}/page"
    answer = as_ilse.ask("get", path)
    policy = answer.headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "img-src 'none'" in policy
    assert "sandbox allow-popups" in policy
    assert "allow-scripts" not in policy
    assert answer.headers["Referrer-Policy"] == "no-referrer"
    asked = as_ilse.ask("get", path, pictures=True).headers["Content-Security-Policy"]
    assert "img-src https:;" in asked


def test_a_link_opens_beside_and_does_not_tell_where_from(
    world: World, as_ilse: Caller, maren: Contact
) -> None:
    page = shown(as_ilse, kept('<a href="https://grower.example/plan">plan</a>'))
    assert '<a href="https://grower.example/plan" rel="noopener noreferrer nofollow">' in page
    assert "<base target=_blank>" in page


def test_a_mail_of_words_alone_has_no_layout_and_a_colleague_s_is_not_seen(
    world: World, as_ilse: Caller, maren: Contact
) -> None:
    row = came(mail())
    assert row and row.layout == PLAIN
    assert as_ilse.status("get", f"arrived-mails/{row.pk}/page") == 404
    assert as_ilse("get", f"arrived-mails/{row.pk}")["laid_out"] is False
    other = came(laid_out("<p>Words</p>").as_bytes().replace(b"<1@", b"<2@"), 2)
    assert other
    assert world.call(world.tomas).status("get", f"arrived-mails/{other.pk}/page") == 404
    assert world.call(world.joren).status("get", f"arrived-mails/{other.pk}/page") == 403


@settings(max_examples=150, deadline=None)
@given(
    st.lists(
        st.sampled_from(
            ["<p>", "</p>", "<table>", "<td", " src=", '"https://a.example"', "<img", "<script", ">", "'", "a", "&lt;", "\x00", "<!--", "]]>"]
        ),
        max_size=40,
    ).map("".join)
)  # fmt: skip
def test_whatever_comes_no_picture_and_no_script_gets_through(markup: str) -> None:
    within = cleaned(markup, pictures=False)
    assert "<script" not in within
    assert 'src="https' not in within
    assert outside(markup) in (True, False)


def test_what_is_nested_without_end_is_shown_by_its_words_alone(
    world: World, as_ilse: Caller, maren: Contact
) -> None:
    """A cleaner takes a minute and more for it."""
    row = kept("<div>" * 60_000 + "x")
    assert (row.layout, row.markup) == (PLAIN, "")
    assert layout_of("<b>x</b>" * 40_000) == LAID_OUT
