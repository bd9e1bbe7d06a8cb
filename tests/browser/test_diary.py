"""The diary: a colleague is asked and hands it back, a call is noted with what comes next, days are moved by keys."""

from collections.abc import Callable
from datetime import date, timedelta
from pathlib import Path
import re

from django.utils import timezone
from playwright.sync_api import Page, expect
import pytest

pytestmark = pytest.mark.browser


def diary(page: Page) -> None:
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("link", name="Diary", exact=True).click()
    expect(page.get_by_role("heading", level=1, name="Diary")).to_be_visible()


def pick_customer(page: Page, letters: str, name: str) -> None:
    page.get_by_role("combobox", name="Customer", exact=True).press_sequentially(letters)
    expect(page.get_by_role("option", name=re.compile(name))).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")


def test_a_colleague_is_asked_hands_it_back_and_who_asked_is_told(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    diary(page)
    page.keyboard.press("n")
    pick_customer(page, "hazel", "Hazelmoor Orchards")
    page.keyboard.type("Ring Maren about the candles")
    whose = page.get_by_role("combobox", name="Who does it")
    whose.press("ArrowDown")
    page.get_by_role("option", name="Tomas Quell").click()
    page.get_by_role("button", name="Add", exact=True).press("Enter")
    # It is on his day, not on hers.
    expect(page.get_by_role("button", name="Add to the diary")).to_have_attribute(
        "aria-expanded", "false"
    )
    page = sign_in("tomas")
    stop = page.get_by_role("listitem").filter(has_text="Ring Maren about the candles")
    expect(stop).to_contain_text("Ilse Brandvold asks")
    stop.get_by_role("link").first.click()
    page.wait_for_url(re.compile(r"/diary\?day="))
    entry = page.get_by_role("button", name=re.compile("Hazelmoor Orchards: Ring Maren"))
    entry.press("Enter")
    # The customer is not his: the name leads nowhere.
    expect(page.get_by_role("link", name="Hazelmoor Orchards")).to_have_count(0)
    page.get_by_role("button", name="Answer: Ring Maren").press("Enter")
    page.keyboard.type("No time this week")
    page.get_by_role("button", name="Hand it back").press("Enter")
    expect(page.get_by_text("Ilse Brandvold has it back.")).to_be_visible()
    expect(entry).to_have_count(0)
    page = sign_in("ilse")
    told = page.get_by_role("listitem").filter(has_text="No time this week")
    expect(told).to_contain_text("Tomas Quell")
    told.get_by_role("button", name=re.compile("^Seen")).press("Enter")
    expect(told).to_have_count(0)
    # It is hers again, and due.
    expect(page.get_by_role("button", name="Done: Ring Maren about the candles")).to_be_visible()


def test_a_call_is_noted_with_what_comes_next_and_both_are_found_again(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    page.get_by_role("link", name="Customers", exact=True).click()
    page.get_by_role("link", name="Quince House Estate").first.click()
    note = page.get_by_role("button", name=re.compile("^Note a call")).first
    note.press("Enter")
    expect(page.get_by_role("textbox", name=re.compile("What did .* say"))).to_be_focused()
    page.keyboard.type("Wants the crates a week sooner, @tomas knows")
    # The list of colleagues is left as it is: the first name is enough.
    page.keyboard.press("Escape")
    page.keyboard.press("Tab")
    page.keyboard.type("Ask the depot about the crates")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("The call with .* is noted"))).to_be_visible()
    card = page.locator("section").filter(
        has=page.get_by_role("heading", name="Activities", exact=True)
    )
    expect(card.get_by_text("Ask the depot about the crates")).to_be_visible()
    page.get_by_role("link", name="What happened").click()
    happened = page.get_by_role("listitem").filter(has_text="Wants the crates a week sooner")
    expect(happened).to_contain_text("Call")
    # What is only planned did not happen.
    expect(page.get_by_text("Ask the depot about the crates")).to_have_count(0)
    page.get_by_role("searchbox", name="Words, numbers").press_sequentially("crates a week")
    page.keyboard.press("Enter")
    expect(page.get_by_role("listitem").filter(has_text="Invoice")).to_have_count(0)
    expect(happened).to_be_visible()
    page.go_back()
    expect(page.get_by_role("heading", level=1, name="Quince House Estate")).to_be_visible()
    page = sign_in("tomas")
    named = page.get_by_role("listitem").filter(has_text="Wants the crates a week sooner")
    expect(named.get_by_role("button", name=re.compile("^Seen"))).to_be_visible()


def calendar(day: date) -> bytes:
    lines = [
        "BEGIN:VCALENDAR",
        "VERSION:2.0",
        "PRODID:-//another//EN",
        "BEGIN:VEVENT",
        "UID:one@another.example",
        f"DTSTART:{day:%Y%m%d}T093000",
        "DURATION:PT1H",
        "SUMMARY:Walk the hail net at Hazelmoor Orchards",
        "LOCATION:North gate",
        "END:VEVENT",
        "BEGIN:VEVENT",
        "UID:two@another.example",
        f"DTSTART:{day:%Y%m%d}T120000",
        "SUMMARY:Lunch",
        "END:VEVENT",
        "END:VCALENDAR",
    ]
    return "\r\n".join(lines).encode()


def test_events_of_a_calendar_are_taken_moved_by_keys_and_moved_back(
    sign_in: Callable[[str], Page], tmp_path: Path
) -> None:
    page = sign_in("ilse")
    diary(page)
    # A week that is not over before the days that it moves by.
    today = timezone.localdate()
    tuesday = today + timedelta(days=8 - today.weekday())
    file = tmp_path / "mine.ics"
    file.write_bytes(calendar(tuesday))
    page.locator("input[type=file]").set_input_files(file)
    panel = page.get_by_role("form", name="From a calendar file")
    expect(panel.get_by_role("checkbox", name=re.compile("^Take: Walk"))).to_be_checked()
    expect(panel.get_by_role("checkbox", name="Take: Lunch")).to_be_disabled()
    panel.get_by_role("button", name="Take 1 event").press("Enter")
    entry = page.get_by_role("button", name=re.compile("Hazelmoor Orchards: Walk the hail net"))
    day = page.get_by_role("listitem").filter(has=entry)
    expect(day).to_contain_text(f"{tuesday.day} ")
    expect(entry).to_contain_text("09:30")
    entry.focus()
    page.keyboard.press("ArrowRight")
    expect(day.get_by_role("heading")).to_contain_text("Wed")
    expect(entry).to_be_focused()
    page.get_by_role("button", name="Undo").press("Enter")
    expect(day.get_by_role("heading")).to_contain_text("Tue")
    # The address keeps the week: away and back shows the same.
    entry.press("Enter")
    page.get_by_role("link", name="Hazelmoor Orchards").first.click()
    expect(page.get_by_role("heading", level=1, name="Hazelmoor Orchards")).to_be_visible()
    page.go_back()
    expect(entry).to_be_visible()
    # The same file again: nothing is taken twice.
    page.locator("input[type=file]").set_input_files(file)
    expect(panel.get_by_text("taken before")).to_be_visible()
    expect(panel.get_by_role("button", name="Take 0 events")).to_be_disabled()


def test_a_call_at_an_order_keeps_its_file_and_leads_back_to_the_order(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("amara")
    page.get_by_role("link", name="Orders", exact=True).click()
    row = page.get_by_role("row").filter(has_text="Sable Farm").first
    number = re.search(r"O-\d\d-\d{4}", row.inner_text())
    assert number
    row.get_by_role("link").first.press("Enter")
    card = page.locator("section.card").filter(has=page.get_by_role("heading", name="Activities"))
    card.get_by_text("Call", exact=True).click()
    card.get_by_role("textbox", name="Call").press_sequentially("Two crates came broken")
    with page.expect_file_chooser() as choosing:
        card.get_by_role("button", name="Files…").first.press("Enter")
    choosing.value.set_files(
        {"name": "broken.pdf", "mimeType": "application/pdf", "buffer": b"%PDF-1.7\n%crates"}
    )
    expect(card.get_by_role("button", name="Leave broken.pdf out")).to_be_visible()
    card.get_by_role("button", name="Add", exact=True).press("Enter")
    noted = card.get_by_role("listitem").filter(has_text="Two crates came broken")
    expect(noted.get_by_role("link", name="broken.pdf")).to_be_visible()
    # At the customer it says where it was noted.
    page.get_by_role("link", name="Customers", exact=True).click()
    page.get_by_role("link", name="Sable Farm").first.click()
    there = page.get_by_role("listitem").filter(has_text="Two crates came broken").first
    there.get_by_role("link", name=number[0]).press("Enter")
    expect(noted).to_be_visible()
    noted.get_by_role("button", name=re.compile("^Files of")).press("Enter")
    noted.get_by_role("button", name="Take broken.pdf away").press("Enter")
    expect(page.get_by_text("broken.pdf is taken away.")).to_be_visible()
    noted.get_by_role("button", name=re.compile("^Files of")).press("Enter")
    expect(noted.get_by_role("link", name="broken.pdf")).to_have_count(0)


def test_a_word_goes_along_where_what_was_asked_is_moved(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("tomas")
    diary(page)
    page.keyboard.press("n")
    pick_customer(page, "fellg", "Fellgate Orchards")
    page.keyboard.type("Measure the gate")
    whose = page.get_by_role("combobox", name="Who does it")
    whose.press("ArrowDown")
    page.get_by_role("option", name="Amara Osei-Lund").click()
    page.get_by_role("button", name="Add", exact=True).press("Enter")
    expect(page.get_by_role("button", name="Add to the diary")).to_have_attribute(
        "aria-expanded", "false"
    )
    page = sign_in("amara")
    stop = page.get_by_role("listitem").filter(has_text="Measure the gate")
    expect(stop).to_contain_text("Tomas Quell asks")
    stop.get_by_role("link").first.press("Enter")
    page.wait_for_url(re.compile(r"/diary\?day="))
    page.get_by_role("button", name=re.compile("Fellgate Orchards: Measure")).press("Enter")
    page.get_by_role("button", name="Answer: Measure the gate").press("Enter")
    page.keyboard.type("The road is closed")
    day = page.get_by_role("combobox", name="Move it to")
    day.press("Control+a")
    page.keyboard.type("+20")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("^It is due on "))).to_be_visible()
    page = sign_in("tomas")
    told = page.get_by_role("listitem").filter(has_text="The road is closed")
    expect(told).to_contain_text("Amara Osei-Lund")
