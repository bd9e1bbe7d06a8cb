"""Who is meant in a note."""

from hypothesis import given
from hypothesis import strategies as st

from routecore.mentions import mentioned

PEOPLE = {1: "Mara Lind", 2: "Tove Aske", 3: "Mara Holm", 4: "Bo"}


def test_a_whole_name_and_a_first_name_that_one_alone_has_are_meant() -> None:
    assert mentioned("@Mara Lind, please ask @tove.", PEOPLE) == [1, 2]


def test_a_first_name_of_two_is_nobody() -> None:
    assert mentioned("@Mara knows", PEOPLE) == []


def test_each_is_told_once_in_the_order_of_the_text() -> None:
    assert mentioned("(@Bo) and @Tove Aske and @bo again", PEOPLE) == [4, 2]


def test_a_name_that_goes_on_and_a_mail_address_are_nobody() -> None:
    assert mentioned("@Bodil, @Bo_2, sales@bo.example, x.@Bo @", PEOPLE) == []


def test_line_breaks_and_case_do_not_matter() -> None:
    assert mentioned("for @MARA\n  lind's sake", PEOPLE) == [1]


def test_two_of_one_name_are_told_apart_by_nobody() -> None:
    assert mentioned("@Tove", {2: "Tove Aske", 5: "Tove Rin"}) == []


@given(st.text(max_size=60), st.dictionaries(st.integers(1, 9), st.text(max_size=12), max_size=4))
def test_nobody_is_made_up(text: str, people: dict[int, str]) -> None:
    found = mentioned(text, people)
    assert len(set(found)) == len(found)
    assert set(found) <= set(people)
