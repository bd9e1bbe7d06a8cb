"""What may be won: targets typed down a column, and what they change; read by those who do not set them."""

from collections.abc import Callable
from pathlib import Path
import re

from playwright.sync_api import Locator, Page, expect
import pytest

from tests.browser.desk import place, timetable

pytestmark = pytest.mark.browser


#: A deal of one's own is made and won today, as the page itself would ask.
WIN_ONE = """async () => {
  const send = (method, path, body) => fetch(path, {
    method, body: JSON.stringify(body), headers: {
      'Content-Type': 'application/json',
      'X-CSRFToken': document.cookie.match(/vivid_csrf=([^;]+)/)[1] } })
  const day = new Date(Date.now() + 3 * 86400000).toISOString().slice(0, 10)
  const made = await send('POST', '/api/deals',
    { title: 'Won at once', decision_on: day, customer_id: 4, estimate: '1234.00' })
  const deal = await made.json()
  const won = await send('PATCH', `/api/deals/${deal.id}`, { version: deal.version, stage: 'won' })
  return won.status
}"""


def retype(page: Page, cell: Locator, text: str) -> None:
    """Type over what stands in a cell."""
    cell.click()
    page.keyboard.press("Control+a")
    page.keyboard.type(text) if text else page.keyboard.press("Delete")


def test_targets_are_typed_down_a_column_and_change_the_odds(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("petra")
    place(page, "Forecast")
    next_month = page.locator("ol.rows li").nth(1)
    expect(page.locator("ol.rows li")).to_have_count(8)
    expect(next_month).to_contain_text("to reach")
    page.get_by_role("button", name="Targets…").press("Enter")
    panel = page.get_by_role("region", name="Targets")
    column = panel.locator("tbody tr td:nth-child(3) input")
    retype(page, column.first, "1")
    many = column.count()
    page.keyboard.press("Enter")
    expect(column.nth(1)).to_be_focused()
    page.keyboard.type("much")
    panel.get_by_role("button", name="Keep the targets").press("Enter")
    expect(panel.get_by_role("alert")).to_contain_text("this is no amount")

    # What was typed is there again after another page, and nothing of it is set yet.
    place(page, "Deals")
    page.go_back()
    expect(next_month).not_to_contain_text("to reach 3.00")
    page.get_by_role("button", name="Targets…").press("Enter")
    expect(column.first).to_have_value("1")
    expect(column.nth(1)).to_have_value("much")
    retype(page, column.nth(1), "2")
    for n in range(2, many):
        retype(page, column.nth(n), "")
    panel.get_by_role("button", name="Keep the targets").press("Enter")
    expect(panel).to_have_count(0)
    expect(next_month).to_contain_text("to reach 3.00")
    # The team's own stands for its people's.
    page.get_by_role("button", name="Targets…").press("Enter")
    month = next_month.get_by_role("link").first.inner_text()[:3]
    retype(page, panel.get_by_role("textbox", name=re.compile(f"^Growers' team, {month}")), "5")
    panel.get_by_role("button", name="Keep the targets").press("Enter")
    expect(next_month).to_contain_text("to reach 5.00")

    # The month opens its deals, and Back comes back to the same season.
    page.get_by_text("Strong", exact=True).click()
    expect(page.get_by_text("Good or bad for all deals alike")).to_be_visible()
    count = next_month.locator("small").inner_text().split()[0]
    next_month.get_by_role("link").first.click()
    expect(page.get_by_text(f"{count} deal", exact=False).first).to_be_visible()
    page.go_back()
    expect(page.get_by_text("Good or bad for all deals alike")).to_be_visible()


def test_targets_of_item_groups_come_from_a_file_and_stand_beside_what_was_won(
    sign_in: Callable[[str], Page], tmp_path: Path
) -> None:
    page = sign_in("petra")
    # On the first of a month nothing is won yet.
    assert page.evaluate(WIN_ONE) == 200
    place(page, "Forecast")
    page.get_by_role("button", name="Targets…").press("Enter")
    panel = page.get_by_role("region", name="Targets")
    with page.expect_download() as taken:
        panel.get_by_role("link", name="CSV").click()
    lines = Path(taken.value.path()).read_text("utf-8-sig").splitlines()
    head, tools = lines[0], next(line for line in lines if "Pruning and hand tools" in line)
    cells = tools.split(",")
    cells[3] = "7654.50"
    table = tmp_path / "targets.csv"
    table.write_text("\n".join([head, ",".join(cells), "Nobody Atall" + "," * (len(cells) - 1)]))
    panel.locator("input[type=file]").set_input_files(table)
    expect(panel.get_by_role("alert")).to_contain_text("1 target is read")
    expect(panel.get_by_text(re.compile("^Row 3: There is no such person"))).to_be_visible()
    # The groups are open where one of them is to change; nothing is kept yet.
    first = panel.locator("tr", has_text="Pruning and hand tools").get_by_role("textbox").first
    expect(first).to_have_value("7\xa0654.50")
    panel.get_by_role("button", name="Keep the targets").press("Enter")
    expect(panel).to_have_count(0)

    cuts = page.get_by_role("region", name="What the open deals are")
    cuts.get_by_role("radio", name="This month").press("Space")
    row = cuts.locator("tr", has_text="Pruning and hand tools")
    expect(row).to_contain_text("7\xa0654.50")
    cuts.get_by_role("radio", name="Customer").press("Space")
    # A figure of what was won opens its deals, and their sum is that figure.
    expect(cuts.get_by_role("columnheader", name="Customer")).to_be_visible()
    won = cuts.locator("tbody tr td:nth-child(6) a").first
    figure = won.inner_text()
    won.click()
    expect(page.get_by_role("heading", level=1, name="Deals")).to_be_visible()
    expect(page.locator("footer")).to_contain_text(figure)
    page.go_back()
    expect(page.get_by_role("heading", name="What may be won")).to_be_visible()


def test_a_rep_reads_their_own_targets_and_sets_none(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("ilse")
    place(page, "Forecast")
    page.get_by_role("button", name="Targets…").press("Enter")
    panel = page.get_by_role("region", name="Targets")
    expect(panel.locator("tbody tr")).to_have_count(1)
    expect(panel.locator("input")).to_have_count(0)
    expect(panel.get_by_role("button", name="Keep the targets")).to_have_count(0)
    page.keyboard.press("Escape")


def test_what_if_is_thought_kept_and_taken_back(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("petra")
    place(page, "Forecast")
    card = page.get_by_role("region", name="The deals that decide")
    box = card.get_by_role("checkbox", name=re.compile("^In: ")).first
    expect(box).to_be_checked()
    box.press("Space")
    expect(box).not_to_be_checked()
    change = re.compile(r"^With this change \d+ in 100 becomes \d+ in 100")
    expect(page.get_by_text(change)).to_be_visible()
    # Left out it is only thought of: there is nothing to keep.
    expect(card.get_by_role("button", name="Keep it…")).to_be_disabled()
    card.get_by_role("button", name=re.compile("^As it stands: ")).press("Enter")
    expect(box).to_be_checked()
    expect(page.get_by_text(change)).to_have_count(0)

    card.get_by_role("button", name="What if…").press("Enter")
    title = card.locator("tbody tr").first.get_by_role("link").inner_text()
    row = card.get_by_role("row").filter(has=page.get_by_role("link", name=title, exact=True))
    source = row.locator("td").nth(5).inner_text()
    chance = row.get_by_role("textbox", name=re.compile("^Chance of "))
    chance.press("Control+a")
    page.keyboard.type("9o")
    page.keyboard.press("Enter")
    expect(row.get_by_role("alert").or_(row.locator(".el-form-item__error"))).to_be_visible()
    chance.press("Control+a")
    page.keyboard.type("90")
    page.keyboard.press("Enter")
    expect(page.get_by_text(change)).to_be_visible()
    # Away and back: what was thought is there, and nothing is stored.
    place(page, "Deals")
    listed = page.get_by_role("row").filter(has_text=title).first
    expect(listed).to_be_visible()
    page.go_back()
    expect(page.get_by_text(re.compile("^What if: 1 deal otherwise")).first).to_be_visible()
    keep = card.get_by_role("button", name="Keep it…")
    # A key is lost on a button that waits for its answer.
    expect(keep).to_be_enabled()
    keep.press("Enter")
    card.get_by_role("textbox", name="Why the chance is another").click()
    page.keyboard.type("Their board said so")
    page.keyboard.press("Enter")
    expect(page.get_by_text("1 deal changed.")).to_be_visible()
    expect(page.get_by_text(re.compile("^What if: "))).to_have_count(0)
    expect(row).to_contain_text("Their board said so")
    page.get_by_role("button", name="Undo").press("Enter")
    expect(page.get_by_text("Taken back.")).to_be_visible()
    expect(row).to_contain_text(source)
    # The deal itself is one click away.
    row.get_by_role("link").click()
    expect(page.get_by_role("heading", name=title)).to_be_visible()


def test_every_figure_of_the_revenue_opens_its_rows(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("petra")
    place(page, "Forecast")
    card = page.get_by_role("region", name="Revenue")
    for column, heading, total in (
        (2, "Invoices", "Net EUR"),
        (3, "Backlog", "To bill EUR"),
        (4, "Deals", "Weighted"),
    ):
        link = card.locator(f"tbody td:nth-child({column + 1}) a").first
        figure = link.inner_text()
        link.click()
        expect(page.get_by_role("heading", level=1, name=heading)).to_be_visible()
        bar = page.locator("footer.bar")
        expect(bar).to_contain_text(figure)
        expect(bar).to_contain_text(total)
        page.go_back()
        expect(card).to_be_visible()


def test_what_moved_opens_its_deals_step_by_step(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("petra")
    place(page, "Forecast")
    card = page.get_by_role("region", name="What moved")
    step = card.get_by_role("button", name=re.compile("^New: "))
    step.press("Enter")
    deals = card.get_by_role("table", name="New")
    expect(deals.get_by_role("link").first).to_be_visible()
    # From another day; it stays in the address, and Back brings it again.
    since = card.get_by_role("combobox", name="Since")
    since.press("Control+a")
    page.keyboard.type("-30")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("since="))
    there = page.url
    expect(card.get_by_role("button", name=re.compile("^New: "))).to_be_visible()
    # Not of the day before: its rows are shown, as stale ones, until the new ones are there.
    expect(card).not_to_have_class(re.compile("stale"))
    title = deals.get_by_role("link").first.inner_text()
    deals.get_by_role("link").first.click()
    expect(page.get_by_role("heading", name=title)).to_be_visible()
    page.go_back()
    expect(page).to_have_url(there)


def test_a_rep_commits_to_a_month_and_takes_it_back(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("amara")
    place(page, "Forecast")
    card = page.get_by_role("region", name="Who commits to what")
    card.get_by_role("button", name=re.compile("^What .* commits to")).press("Enter")
    field = card.get_by_role("textbox", name="Committed")
    field.press("Control+a")
    page.keyboard.type("31 500")
    page.keyboard.press("Tab")
    card.get_by_role("button", name="Commit to it").press("Enter")
    expect(card.get_by_role("button", name=re.compile("^What .* commits to"))).to_have_text(
        re.compile("31\u00a0500")
    )
    expect(field).to_have_count(0)
    card.get_by_role("button", name=re.compile("^What .* commits to")).press("Enter")
    card.get_by_role("button", name="Take it back").press("Enter")
    expect(card.get_by_role("button", name=re.compile("^What .* commits to"))).to_have_text(
        "Commit…"
    )


def test_earlier_forecasts_are_looked_at_on_demand(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("petra")
    place(page, "Forecast")
    called = page.get_by_role("region", name="Called and won")
    called.scroll_into_view_if_needed()
    expect(called.get_by_text(re.compile("^Called .* % on the whole"))).to_be_visible()
    called.get_by_text("30 days before", exact=True).click()
    expect(page).to_have_url(re.compile("days=30"))
    early = page.get_by_role("region", name="How early a month was right")
    early.get_by_role("button", name="Look").press("Enter")
    expect(early.get_by_role("row")).to_have_count(13)


def test_the_forecast_lies_on_one_sheet_and_the_timetable_on_one_across(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("petra")
    place(page, "Forecast")
    for card in ("Revenue", "The deals that decide"):
        expect(page.get_by_role("region", name=card).get_by_role("link").first).to_be_visible()
    moved = page.get_by_role("region", name="What moved")
    expect(moved.get_by_role("button", name=re.compile("^New: "))).to_be_visible()
    assert sheets(page) == [(595, 842)]
    timetable(page)
    expect(page.get_by_role("list", name="Weighted by month")).to_be_visible()
    assert sheets(page) == [(842, 595)]


def sheets(page: Page) -> list[tuple[int, int]]:
    """Width and height, in points, of each sheet that would be printed."""
    boxes = re.findall(
        rb"/MediaBox\s*\[0 0 ([0-9.]+) ([0-9.]+)\]", page.pdf(prefer_css_page_size=True)
    )
    return [(round(float(wide)), round(float(high))) for wide, high in boxes]
