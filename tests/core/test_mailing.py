"""Words of a mail: no field is lost, none is made up by a value."""

from hypothesis import given
from hypothesis import strategies as st

from routecore.mailing import fields_of, filled, unfilled

names = st.from_regex(r"[a-z_]{1,30}", fullmatch=True)
words = st.text(st.characters(exclude_categories=("Cs",)), max_size=40)


def test_a_field_without_a_value_stays_in_sight() -> None:
    text = filled("Dear {contact},\n{number} of {day}", {"number": "Q-7", "day": " "})
    assert text == "Dear ⟨contact⟩,\nQ-7 of ⟨day⟩"
    assert unfilled(text) == ("contact", "day")


def test_what_a_value_says_is_no_field() -> None:
    """A customer called "{total}" or "⟨total⟩" is called so."""
    for odd in ("{total}", "⟨total⟩"):
        assert unfilled(filled("For {customer}", {"customer": odd, "total": "5"})) == ()
    assert filled("{customer}", {"customer": "{total}", "total": "5"}) == "{total}"


def test_what_is_no_field_stays_as_it_is() -> None:
    text = "a { b } {B} {} {a-b} {{x}}"
    assert fields_of(text) == ("x",)
    assert filled(text, {"x": "1"}) == "a { b } {B} {} {a-b} {1}"


@given(parts=st.lists(st.tuples(words, names), max_size=6), values=st.dictionaries(names, words))
def test_every_field_is_filled_or_told(
    parts: list[tuple[str, str]], values: dict[str, str]
) -> None:
    plain = [(text.translate(str.maketrans("{}⟨⟩", "    ")), name) for text, name in parts]
    text = "".join(f"{before}{{{name}}}" for before, name in plain)
    assert fields_of(text) == tuple(dict.fromkeys(name for _, name in plain))
    told = filled(text, values)
    empty = [name for name in fields_of(text) if not values.get(name, "").strip()]
    assert list(unfilled(told)) == empty
