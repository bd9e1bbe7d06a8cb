"""What keeps a house in order: one's own password and visits, news set apart, a file made twice, lost answers."""

from collections.abc import Callable
import json
import re
import sqlite3
import uuid

from playwright.sync_api import Page, Route, expect
import pytest

from ops.faults import ask_database
from ops.stack import Stack
from tests.browser.desk import cell, fill_line, make_deal, menu, place, saved, start

pytestmark = pytest.mark.browser
PASSWORD, LONGER = "orchard-demo", "a ladder among quinces"


def test_a_new_password_ends_the_other_visits_and_lets_one_in(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("amara")
    elsewhere = page.context.browser.new_context(locale="en-GB").new_page()  # type: ignore[union-attr]
    elsewhere.goto(stack.url)
    elsewhere.get_by_label("Name").fill("amara")
    elsewhere.get_by_label("Password").fill(PASSWORD)
    elsewhere.keyboard.press("Enter")
    elsewhere.wait_for_url(f"{stack.url}/today")
    menu(page, "Amara Osei-Lund", "My account")
    visits = page.locator("section.visits")
    expect(visits.get_by_role("listitem").filter(has_text="this one")).to_have_count(1)
    assert visits.get_by_role("listitem").count() >= 2

    change_password(page, "not this one", LONGER)
    expect(page.get_by_text("This is not the password until now.")).to_be_visible()
    change_password(page, PASSWORD, "quince")
    expect(page.get_by_text("A password has at least 12 characters.")).to_be_visible()
    change_password(page, PASSWORD, LONGER)
    expect(page.get_by_text("The password is changed.")).to_be_visible()
    expect(visits.get_by_role("listitem")).to_have_count(1)

    elsewhere.reload()
    expect(elsewhere.get_by_label("Password")).to_be_visible()
    elsewhere.context.close()
    expect(page.get_by_text("The password is changed.")).to_have_count(0)
    change_password(page, LONGER, PASSWORD)
    expect(page.get_by_text("The password is changed.")).to_be_visible()
    assert all("422" in fault or "403" in fault for fault in faults), faults
    faults.clear()


def change_password(page: Page, old: str, new: str) -> None:
    """Type both, the new one twice."""
    for label, text in (
        ("The password until now", old),
        ("The new one", new),
        ("The new one again", new),
    ):
        field = page.get_by_label(label, exact=True)
        field.press("Control+a")
        page.keyboard.type(text)
    page.keyboard.press("Enter")


def tell(stack: Stack, kind: str, data: dict[str, object]) -> None:
    """The back office announces something about an order that it was handed."""
    [[key]] = ask_database(stack, "SELECT `key` FROM handover_handover ORDER BY id LIMIT 1")
    with sqlite3.connect(stack.folder / "backoffice" / "backoffice.sqlite", timeout=20) as link:
        link.execute(
            "INSERT INTO events (id, key, kind, occurred_at, data) VALUES (?, ?, ?, ?, ?)",
            (str(uuid.uuid4()), key, kind, "2026-11-26T10:00:00+00:00", json.dumps(data)),
        )


def test_news_that_cannot_be_read_stands_on_today_and_is_let_go(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    tell(stack, "paid", {"number": "PAY-X1", "invoice": "INV-X1", "on": "today", "amount": "NaN"})
    page = sign_in("joren")
    page.get_by_role("link", name=re.compile("Paid|paid")).first.click()
    expect(page.get_by_role("heading", level=1, name="News set apart")).to_be_visible()
    row = page.get_by_role("row").filter(has_text="Paid").first
    row.get_by_role("button", name="As it came").press("Enter")
    expect(page.locator("pre")).to_contain_text("PAY-X1")
    row.get_by_role("button", name="Try again").click()
    expect(page.get_by_text("Tried again.")).to_be_visible()
    expect(row).to_be_visible()
    row.get_by_role("button", name="Let go…").click()
    page.get_by_label("Why, for those who look for it later").click()
    page.keyboard.type("Typed by hand over there, by mistake")
    page.get_by_role("button", name="Let it go").click()
    expect(page.get_by_text("Let go.", exact=True)).to_be_visible()
    expect(page.locator("pre")).to_have_count(0)
    place(page, "Today")
    expect(page.get_by_role("link", name=re.compile("PAY-X1"))).to_have_count(0)


def test_a_file_that_was_made_once_makes_nothing_twice(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("tomas")
    rows = ["Quote,Customer,Item,Quantity",
            *(f"row {n},Fellgate Orchards,POS-250,{n + 1}" for n in range(3))]  # fmt: skip
    file = {"name": "n.csv", "mimeType": "text/csv", "buffer": "\n".join(rows).encode()}
    quotes = "SELECT COUNT(*) FROM quotes_quote"
    before = ask_database(stack, quotes)[0][0]
    place(page, "Quotes")
    for act, made in (("Make 3 drafts", 3), ("Make 3 drafts", 0)):
        page.get_by_role("button", name="From a file…").click()
        page.locator("input[type=file]").set_input_files(file)
        panel = page.get_by_role("region", name="Quotes from a file")
        panel.get_by_role("button", name=act).click()
        expect(panel.get_by_role("link", name=re.compile(r"Q-\d\d-\d{4}"))).to_have_count(3)
        expect(panel.get_by_text("made before", exact=True)).to_have_count(3 - made)
        page.reload()
    assert ask_database(stack, quotes)[0][0] == before + 3


def test_a_quote_whose_start_was_not_answered_is_started_once(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("ilse")
    make_deal(page, "Pressed twice", "Stonebeck Farm")
    lost: list[str] = []

    def loses(route: Route) -> None:
        if route.request.method != "POST" or lost:
            route.continue_()
            return
        lost.append(route.request.url)
        route.fetch()  # it arrives, and a quote is made
        route.abort()

    page.route(re.compile("/api/quotes$"), loses)
    page.get_by_role("button", name="Start a quote").click()
    expect(page.get_by_role("alert").first).to_be_visible()
    page.get_by_role("button", name="Start a quote").click()
    expect(cell(page, 0, 0)).to_be_focused()
    assert lost
    made = "SELECT COUNT(*) FROM quotes_quote WHERE deal_title = 'Pressed twice'"
    assert ask_database(stack, made)[0][0] == 1
    assert all("ERR_FAILED" in fault for fault in faults), faults
    faults.clear()


def test_while_the_house_is_away_what_is_typed_is_kept_and_goes_in_by_itself(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("ilse")
    start(page, "The house is away")
    fill_line(page, "POS-300", "20")
    saved(page)
    away = {"code": "away", "path": "", "facts": {}, "message": "The house cannot be reached."}

    def refuses(route: Route) -> None:
        route.fulfill(status=503, json=away)

    revision = re.compile(r"/api/revisions/\d+(/price)?$")
    page.route(revision, refuses)
    cell(page, 0, 2).click()
    page.keyboard.type("77")
    page.keyboard.press("Enter")
    expect(page.get_by_text("kept here", exact=False).first).to_be_visible()
    page.unroute(revision)
    saved(page)
    page.reload()
    expect(cell(page, 0, 2)).to_have_text("77")
    assert all("503" in fault for fault in faults), faults
    faults.clear()
