"""A quote is sent to its buyer from where it stands, and what became of the mail is seen there."""

from collections.abc import Callable
from email.message import EmailMessage
import re
import smtplib

import httpx
from playwright.sync_api import Page, expect
import pytest

from ops.stack import Stack
from tests.browser.desk import cell, fill_line, menu, place, saved, start

pytestmark = pytest.mark.browser


def mailboxes(stack: Stack) -> httpx.Client:
    """The page of the mail stand-in, signed in."""
    client = httpx.Client(base_url=stack.mailbox_url, follow_redirects=True)
    client.post("/sign-in", data={"password": "orchard-demo"})
    return client


def press(boxes: httpx.Client, fault: str) -> None:
    """A button of that page."""
    token = re.search(r"name=token value='(\w+)'", boxes.get("/").text)
    assert token
    boxes.post("/fault", data={"fault": fault, "token": token[1]})


def buyers_box(boxes: httpx.Client) -> str:
    """The first address that got mail and is not of the house."""
    known = re.findall(r"of=([^']+)'", boxes.get("/").text)
    return next(each for each in known if not each.endswith("quillfen.example"))


def issued(page: Page, title: str) -> None:
    """A quote of forty posts, issued."""
    start(page, title)
    expect(cell(page, 0, 0)).to_be_focused()
    fill_line(page, "POS-300", "40")
    saved(page)
    page.keyboard.press("Control+Enter")
    page.get_by_role("button", name="Issue revision A", exact=True).press("Enter")
    expect(page.get_by_role("link", name="Write the order…")).to_be_visible()


def test_a_quote_is_sent_with_its_paper_and_asked_about_later(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    issued(page, "Posts by mail")
    card = page.get_by_role("region", name="Mail", exact=True)
    card.get_by_role("button", name="Write a mail…").press("Enter")
    form = page.get_by_role("form", name=re.compile("^Send quote Q"))
    subject = form.get_by_role("textbox", name="Subject")
    expect(subject).to_have_value(re.compile("^Quote Q.* for Stonebeck Farm$"))
    words = form.get_by_role("textbox", name="Words")
    expect(words).to_have_value(re.compile("^Dear "))
    words.click()
    page.keyboard.press("Control+End")
    page.keyboard.type("\nThe posts are cut next week.")
    # Away and back: what was typed is there.
    page.keyboard.press("Escape")
    expect(form).to_have_count(0)
    place(page, "Deals")
    page.go_back()
    card.get_by_role("button", name="Write a mail…").press("Enter")
    expect(words).to_have_value(re.compile("cut next week"))
    form.get_by_role("button", name="As it will arrive").press("Enter")
    expect(form.get_by_role("article")).to_contain_text("The posts are cut next week.")
    form.get_by_role("button", name="Send it").press("Enter")
    expect(form).to_have_count(0)
    expect(card.locator("summary", has_text="Sent")).to_be_visible()
    card.locator("summary").press("Enter")
    expect(card.get_by_role("link", name=re.compile(r"^Q.*\.pdf$"))).to_be_visible()

    boxes = mailboxes(stack)
    read = boxes.get(f"/?of={buyers_box(boxes)}").text
    assert "The posts are cut next week." in read
    assert re.search(r"Q[\w-]+\.pdf", read)
    # The deal knows of it as well.
    page.get_by_role("navigation", name="The Route").get_by_role(
        "link", name=re.compile("^Deal")
    ).click()
    expect(page.get_by_role("heading", name="Posts by mail")).to_be_visible()
    expect(card.locator("summary", has_text="Sent")).to_be_visible()
    expect(page.get_by_text(re.compile("^Ask about quote")).first).to_be_visible()


def test_where_the_server_falls_silent_a_person_says_what_became_of_it(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    issued(page, "Posts into silence")
    boxes = mailboxes(stack)
    press(boxes, "mute")
    try:
        card = page.get_by_role("region", name="Mail", exact=True)
        card.get_by_role("button", name="Write a mail…").press("Enter")
        form = page.get_by_role("form", name=re.compile("^Send quote Q"))
        expect(form.get_by_role("textbox", name="Subject")).to_have_value(re.compile("^Quote Q"))
        form.get_by_role("button", name="Send it").press("Enter")
        expect(card.get_by_text(re.compile("^Nobody knows whether"))).to_be_visible()
    finally:
        press(boxes, "mute")
    card.get_by_role("button", name="It went out").press("Enter")
    expect(card.locator("summary", has_text="Sent")).to_be_visible()
    expect(card.get_by_text(re.compile("^Nobody knows whether"))).to_have_count(0)


def test_an_issued_quote_is_written_about_at_once_where_a_person_wants_that(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    start(page, "Issued and sent")
    expect(cell(page, 0, 0)).to_be_focused()
    fill_line(page, "POS-300", "20")
    saved(page)
    page.keyboard.press("Control+Enter")
    page.get_by_role("checkbox", name="then write to the buyer").press("Space")
    page.get_by_role("button", name="Issue revision A", exact=True).press("Enter")
    form = page.get_by_role("form", name=re.compile("^Send quote Q"))
    expect(form.get_by_role("textbox", name="Subject")).to_have_value(re.compile("^Quote Q"))
    expect(form).to_contain_text("Somebody asks about it on")
    form.get_by_role("button", name="Send it").press("Enter")
    card = page.get_by_role("region", name="Mail", exact=True)
    expect(card.locator("summary", has_text="Sent")).to_be_visible()


def test_quotes_about_to_lapse_are_written_about_one_by_one(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("ilse")
    place(page, "Quotes")
    page.get_by_role("radio", name="About to lapse").press("Space")
    page.get_by_role("link", name=re.compile("^Write to ")).press("Enter")
    expect(page.get_by_role("heading", name="Quotes about to lapse")).to_be_visible()
    rows = page.locator("main table.list tbody tr")
    expect(rows.first).to_contain_text("to be written")
    many = rows.count()
    page.get_by_role("button", name=re.compile("^Write about ")).last.press("Enter")
    form = page.get_by_role("form", name=re.compile(f"^Quote Q.*, 1 of {many}$"))
    expect(form.get_by_role("textbox", name="Subject")).to_have_value(re.compile("holds until"))
    form.get_by_role("button", name="Send it").press("Enter")
    expect(rows.first).to_contain_text("Sent")
    if many > 1:
        second = page.get_by_role("form", name=re.compile(f"^Quote Q.*, 2 of {many}$"))
        expect(second.get_by_role("textbox", name="Subject")).to_be_visible()
        page.keyboard.press("Escape")
        expect(rows.nth(1)).to_contain_text("passed over")


def test_words_are_tried_on_a_real_record(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("ilse")
    menu(page, "Ilse Brandvold", "My account")
    card = page.get_by_role("region", name="Your mails")
    words = card.get_by_role("textbox", name="Words")
    words.click()
    page.keyboard.press("Control+End")
    page.keyboard.type(" It is for {customer}.")
    card.get_by_role("button", name="On a real record").press("Enter")
    tried = card.get_by_role("article", name="On a real record")
    expect(tried).to_contain_text("As it comes out for")
    expect(tried).not_to_contain_text("{customer}")


def write(page: Page, subject: str) -> None:
    """A mail about the quote that is shown, with this subject, sent."""
    card = page.get_by_role("region", name="Mail", exact=True)
    card.get_by_role("button", name="Write a mail…").press("Enter")
    form = page.get_by_role("form", name=re.compile("^Send quote Q"))
    field = form.get_by_role("textbox", name="Subject")
    expect(field).to_have_value(re.compile("^Quote Q"))
    field.press("Control+a")
    page.keyboard.type(subject)
    form.get_by_role("button", name="Send it").press("Enter")
    expect(card.locator("summary", has_text=subject)).to_contain_text("Sent")


def answer(boxes: httpx.Client, subject: str, sample: str) -> None:
    """The buyer's answer to this mail, from the stand-in's page."""
    shown = boxes.get(f"/?of={buyers_box(boxes)}").text
    letter = next(part for part in shown.split("<article>") if f"<h2>{subject}<" in part)
    fields = dict(re.findall(r"name=(of|key|token) value='([^']*)'", letter))
    boxes.post("/answer", data={**fields, "sample": sample, "words": ""})


def test_a_yes_by_mail_becomes_an_order_and_is_answered(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    issued(page, "Posts by a yes")
    boxes = mailboxes(stack)
    write(page, "May we cut them")
    answer(boxes, "May we cut them", "accept")
    place(page, "Today")
    stop = page.get_by_role("link", name="Re: May we cut them", exact=True)
    expect(stop).to_be_visible(timeout=60_000)
    stop.press("Enter")
    card = page.get_by_role("region", name="Mail", exact=True)
    came = card.locator("details.came")
    expect(came).to_contain_text("Says yes:")
    expect(came).to_contain_text("their number PO-4711")
    came.get_by_role("link", name="Accept…").press("Enter")
    expect(page.get_by_text(re.compile("as .* wrote: “we accept your offer", re.I))).to_be_visible()
    expect(page.get_by_role("textbox", name="The buyer’s order number")).to_have_value("PO-4711")
    page.go_back()
    came.get_by_role("button", name="Answer it…").press("Enter")
    form = page.get_by_role("form", name=re.compile("^An answer to "))
    expect(form.get_by_role("textbox", name="Subject")).to_have_value("Re: May we cut them")
    words = form.get_by_role("textbox", name="Words")
    expect(words).to_be_focused()
    page.keyboard.type("Thank you: they are cut on Monday.")
    page.keyboard.press("Control+Enter")
    expect(form).to_have_count(0)
    expect(came.locator("summary")).to_contain_text("Came in")
    answers = card.locator("summary", has_text="Re: May we cut them")
    expect(answers.filter(has_text="Sent")).to_be_visible()
    letter = boxes.get(f"/?of={buyers_box(boxes)}").text
    assert "Thank you: they are cut on Monday." in letter
    assert "&gt; we accept your offer" in letter


def test_an_answer_is_seen_where_the_deal_is_and_what_came_back_is_told(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    issued(page, "Posts with an answer")
    card = page.get_by_role("region", name="Mail", exact=True)
    boxes = mailboxes(stack)

    write(page, "Is this right for you")
    answer(boxes, "Is this right for you", "accept")
    came = card.locator("details.came")
    expect(came.locator("summary")).to_contain_text("Re: Is this right for you", timeout=60_000)
    came.locator("summary").press("Enter")
    expect(came).to_contain_text("we accept your offer")
    page.get_by_role("navigation", name="The Route").get_by_role(
        "link", name=re.compile("^Deal")
    ).click()
    expect(page.get_by_role("heading", name="Posts with an answer")).to_be_visible()
    expect(card.locator("summary", has_text="Re: Is this right")).to_contain_text(
        "Waits for an answer"
    )

    page.go_back()
    write(page, "Once more")
    answer(boxes, "Once more", "bounce")
    expect(card.get_by_text("“Once more” did not arrive.")).to_be_visible(timeout=60_000)
    expect(card).to_contain_text("There is no such mailbox any more")
    card.get_by_role("button", name="Let it go").press("Enter")
    expect(card.locator("summary", has_text="Once more")).to_contain_text("Let go")


def test_a_stranger_who_wrote_becomes_a_lead_with_what_they_wrote(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    letter = EmailMessage()
    letter["From"], letter["To"] = "Wilma Ashby <wilma@ashbyfarm.example>", "sales@quillfen.example"
    letter["Subject"], letter["Message-ID"] = "A fence for three hectares", "<1@ashbyfarm.example>"
    letter.set_content("Good day, who can help me with a fence?")
    with smtplib.SMTP("127.0.0.1", stack.smtp_port) as line:
        line.send_message(letter)
    page = sign_in("ilse")
    place(page, "Deals")
    page.get_by_role("link", name="Leads", exact=True).press("Enter")
    page.get_by_role("link", name=re.compile("wrote…$")).press("Enter", timeout=60_000)
    row = page.get_by_role("listitem").filter(has_text="wilma@ashbyfarm.example")
    expect(row).to_contain_text("A fence for three hectares")
    row.get_by_role("button", name="A lead", exact=True).press("Enter")
    expect(page.get_by_role("heading", name="Wilma Ashby")).to_be_visible()
    note = page.get_by_text("who can help me with a fence?")
    for _ in range(20):
        if note.count():
            break
        page.wait_for_timeout(1_000)
        page.reload()
        expect(page.get_by_role("heading", name="Wilma Ashby")).to_be_visible()
    expect(note).to_be_visible()


def test_who_is_invited_to_a_visit_says_that_they_come(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    page.get_by_role("link", name="Diary", exact=True).click()
    expect(page.get_by_role("heading", level=1, name="Diary")).to_be_visible()
    page.keyboard.press("n")
    page.get_by_role("combobox", name="Customer", exact=True).press_sequentially("stone")
    expect(page.get_by_role("option", name=re.compile("Stonebeck Farm"))).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    page.keyboard.type("Look at the trellis")
    page.get_by_role("checkbox", name="a visit").press("Space")
    page.get_by_role("textbox", name=re.compile("^Where, if")).press_sequentially("North gate")
    page.keyboard.press("Enter")
    page.get_by_role("button", name=re.compile("Stonebeck Farm: Look at the trellis")).press(
        "Enter"
    )
    page.get_by_role("button", name="Invite to: Look at the trellis").press("Enter")
    form = page.get_by_role("form", name="Invite to: Look at the trellis")
    subject = form.get_by_role("textbox", name="Subject")
    expect(subject).to_have_value(re.compile("^Visit on "))
    expect(form.get_by_role("textbox", name="Words")).to_have_value(re.compile("North gate"))
    expect(form.get_by_role("checkbox", name="invitation.ics")).to_be_checked()
    sent = subject.input_value()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text(re.compile(" is invited$"))).to_be_visible()
    boxes = mailboxes(stack)
    for _ in range(60):
        if f"<h2>{sent}<" in boxes.get(f"/?of={buyers_box(boxes)}").text:
            break
        page.wait_for_timeout(500)
    answer(boxes, sent, "comes")
    comes = page.get_by_text(re.compile(" comes$"))
    for _ in range(30):
        place(page, "Today")
        page.go_back()
        page.get_by_role("button", name=re.compile("Stonebeck Farm: Look at the trellis")).press(
            "Enter"
        )
        expect(page.get_by_text(re.compile(" (is invited|comes)$"))).to_be_visible()
        if comes.is_visible():
            break
        page.wait_for_timeout(1000)
    expect(comes).to_be_visible()


def test_what_waits_is_found_among_all_mails_and_is_settled_where_it_stands(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("amara")
    place(page, "Today")
    page.get_by_role("link", name="Mail", exact=True).press("Enter")
    expect(page.get_by_role("heading", level=1, name="Mail")).to_be_visible()
    page.get_by_role("checkbox", name="Waits for an answer").press("Space")
    expect(page).to_have_url(re.compile("waits=true"))
    page.get_by_role("searchbox", name="Find in mails").press_sequentially("Hagelnetz")
    row = page.get_by_role("row").filter(has_text="Anfrage Hagelnetz")
    expect(row).to_contain_text("Kaspar Lindqvist")
    row.get_by_role("link").first.press("Enter")
    expect(page.get_by_role("heading", name="Lindqvist Bär AG")).to_be_visible()
    came = page.get_by_role("region", name="Mail", exact=True).locator("details.came")
    # Who comes for one mail finds it open, and the keyboard there.
    expect(came.get_by_text("24 Rollen Hagelnetz schwarz")).to_be_visible()
    expect(came.locator("summary")).to_be_focused()
    came.get_by_role("button", name="It needs no answer").press("Enter")
    expect(came.locator("summary")).to_contain_text("Came in")
    page.go_back()
    expect(page.get_by_role("searchbox", name="Find in mails")).to_have_value("Hagelnetz")
    expect(row).to_have_count(0)


def test_what_a_person_sends_with_another_program_stands_with_the_customer(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("tomas")
    page.get_by_role("button", name="Tomas Quell").click()
    page.get_by_role("menuitem", name="My account").click()
    boxes = page.get_by_role("region", name="Mailboxes")
    boxes.get_by_role("button", name="Add a mailbox…").press("Enter")
    boxes.get_by_role("textbox", name="Who signs in there").press_sequentially(
        "tomas@quillfen.example"
    )
    boxes.get_by_role("textbox", name="Its password").press_sequentially("orchard-demo")
    page.keyboard.press("Enter")
    expect(page.get_by_text("tomas@quillfen.example is read from now on.")).to_be_visible()
    theirs = mailboxes(stack)
    shown = theirs.get("/?of=tomas@quillfen.example").text
    token = re.search(r"name=token value='(\w+)'", shown)
    assert token
    theirs.post(
        "/write",
        data={
            "of": "tomas@quillfen.example",
            "to": "rafe@dunmereestate.example",
            "subject": "From the yard",
            "words": "Five per cent it is, if you take all of it.",
            "token": token[1],
        },
    )
    place(page, "Today")
    page.get_by_role("link", name="Mail", exact=True).press("Enter")
    row = page.get_by_role("row").filter(has_text="From the yard")
    for _ in range(30):
        if row.count():
            break
        page.wait_for_timeout(1_000)
        page.reload()
        expect(page.get_by_role("heading", level=1, name="Mail")).to_be_visible()
        page.wait_for_load_state("networkidle")
    expect(row).to_contain_text("Sent, with another program")
    expect(row).to_contain_text("Dunmere Estate")
