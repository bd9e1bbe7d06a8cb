"""What a mail says to an offer, by examples of our own; and the days in it."""

from datetime import date, timedelta

from hypothesis import given, settings
from hypothesis import strategies as st
import pytest

from routecore.reading.answers import read_answer
from routecore.reading.days import days_in

TODAY = date(2026, 11, 28)


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("We accept your quote Q-26-0215.", "accepts"),
        ("Thank you, please go ahead.", "accepts"),
        ("All agreed. Please deliver by 12 December.", "accepts"),
        ("Your offer is fine, you have the order.", "accepts"),
        ("We would like to order as quoted.", "accepts"),
        ("Hiermit bestellen wir gemäß Angebot Q-26-0215.", "accepts"),
        ("Wir nehmen Ihr Angebot gerne an.", "accepts"),
        ("Einverstanden, bitte liefern.", "accepts"),
        ("Passt so, danke!", "accepts"),
        ("We cannot accept yet.", "nothing"),
        ("We can not accept this.", "declines"),
        ("If the price holds until May we accept.", "nothing"),
        ("Would you say we accept too early?", "nothing"),
        ("Before we accept, could you add the net clips?", "asks"),
        ("Wir können das Angebot noch nicht annehmen.", "nothing"),
        ("Unfortunately we must decline.", "declines"),
        ("We have decided against it.", "declines"),
        ("We bought the posts elsewhere.", "declines"),
        ("Leider müssen wir absagen.", "declines"),
        ("Wir haben anderweitig bestellt.", "declines"),
        ("Could you do better? 296.00 a roll is too much.", "asks"),
        ("Please revise the quote: 14 rolls instead of 12.", "asks"),
        ("Das ist uns zu teuer. Gibt es einen Nachlass?", "asks"),
        ("We accept the nets. The posts are too expensive.", "asks"),
        ("I am out of the office until 14 November.", "away"),
        ("Ich bin bis zum 3.12. nicht im Büro.", "away"),
        ("Thank you for the drawing.", "nothing"),
        ("Please send 12 nets.", "nothing"),
        ("Thanks.\n\nOn 3 March Ilse wrote:\n> We accept your order", "nothing"),
    ],
)
def test_an_answer_is_read_by_its_words(text: str, kind: str) -> None:
    assert read_answer("Re: Quote Q-26-0215", text, today=TODAY).kind == kind


def test_what_says_two_things_is_not_sure() -> None:
    both = read_answer("", "We accept the nets. The posts are too expensive.", today=TODAY)
    assert (both.kind, both.sure) == ("asks", False)
    assert read_answer("", "We accept.", today=TODAY).sure


def test_the_sentence_that_says_it_is_told() -> None:
    text = "Thank you for the quote. Please go ahead with all of it. We look forward to it."
    assert read_answer("", text, today=TODAY).sentence == "Please go ahead with all of it."


def test_an_absence_is_told_by_the_subject_as_well() -> None:
    assert read_answer("Automatic reply: Quote", "Back on Monday.", today=TODAY).kind == "away"


@pytest.mark.parametrize(
    ("text", "number"),
    [
        ("We accept, our order number is 4500127.", "4500127"),
        ("Agreed. PO: PO-88123/2", "PO-88123/2"),
        ("Wir bestellen. Unsere Bestellnummer lautet B-2026-77.", "B-2026-77"),
        ("We accept your quote Q-26-0215.", ""),
        ("We accept. Order Q-26-0215 as it is.", ""),
        ("We order 250 posts.", ""),
    ],
)
def test_the_buyers_order_number_is_taken_from_the_mail(text: str, number: str) -> None:
    answer = read_answer("", text, today=TODAY, own_numbers=["Q-26-0215"])
    assert answer.order_number == number


@pytest.mark.parametrize(
    ("text", "on"),
    [
        ("We accept. Please deliver by 12 December.", date(2026, 12, 12)),
        ("Agreed, delivery on 2026-12-15 please.", date(2026, 12, 15)),
        ("Wir bestellen, Lieferung bis 15.1.", date(2027, 1, 15)),
        ("Wir bestellen, Liefertermin KW 51.", date(2026, 12, 14)),
        ("We accept. We met on 12 March.", None),
    ],
)
def test_the_wanted_day_is_taken_from_the_mail(text: str, on: date | None) -> None:
    assert read_answer("", text, today=TODAY).wanted_on == on


@pytest.mark.parametrize(
    ("text", "days"),
    [
        ("12.3.", ["2027-03-12"]),
        ("on 1/12/26", ["2026-12-01"]),
        ("31.02.", []),
        ("29 February", []),
        ("next Friday", ["2026-12-04"]),
        ("in 2 weeks", ["2026-12-12"]),
        ("KW 53", ["2026-12-28"]),
        ("December 3rd and 3. Dezember 2027", ["2026-12-03", "2027-12-03"]),
    ],
)
def test_days_are_read(text: str, days: list[str]) -> None:
    assert [str(day.on) for day in days_in(text, TODAY)] == days


@given(st.dates(TODAY, TODAY + timedelta(days=364)))
def test_a_day_without_a_year_is_the_next_one_there_is(on: date) -> None:
    assert [day.on for day in days_in(f"by {on.day}.{on.month}.", TODAY)] == [on]


@given(st.text(max_size=300))
@settings(max_examples=150, deadline=None)
def test_no_text_breaks_the_reading_of_an_answer(text: str) -> None:
    answer = read_answer(text[:60], text, today=TODAY)
    assert answer.kind in {"accepts", "declines", "asks", "away", "nothing"}
