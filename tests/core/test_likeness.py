"""Names of one customer, however they are written; and marks that tell nothing."""

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.likeness import (
    PersonMarks,
    compare_names,
    compare_people,
    mail_domain,
    name_keys,
    name_words,
    phone_key,
    skeleton,
)


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ("Hazelmoor Orchards", "ORCHARDS, Hazelmoor"),
        ("Hazelmoor Orchards Ltd.", "Hazelmoor Orchards Limited"),
        ("Lindqvist Bär AG", "Bar Lindqvist"),
        ("Obsthof Groß GmbH & Co. KG", "Obsthof Gross"),
        ("A.B. Frost", "AB Frost"),
        ("O'Neill Fruit", "ONeill fruit"),
    ],
)
def test_order_case_accents_and_legal_forms_make_no_other_name(one: str, other: str) -> None:
    assert compare_names(one, other).how == "same"
    assert name_keys(one) == name_keys(other)


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ("Hazelmoor Orchards", "Hazelmor Orchard"),
        ("Saltmarsh Vineyards", "Saltmarsh Vinyards"),
        ("Wren Nurseries", "Wren Nurseries Northgate"),
    ],
)
def test_a_slip_or_a_word_more_is_near(one: str, other: str) -> None:
    assert compare_names(one, other).how == "near"
    assert name_keys(one) & name_keys(other)


@pytest.mark.parametrize(
    ("one", "other"),
    [("Hazelmoor Orchards", "Fellgate Orchards"), ("Wren", "Wren Nurseries"), ("", "Sable Farm")],
)
def test_a_common_word_alone_makes_nobody_the_same(one: str, other: str) -> None:
    assert compare_names(one, other).how == ""


def test_a_name_of_legal_forms_alone_keeps_them() -> None:
    assert name_words("AG Co.") == ("ag", "co")


def test_a_skeleton_hears_what_is_written_in_two_ways() -> None:
    assert skeleton("philipp") == skeleton("filip")
    assert skeleton("becker") == skeleton("bekker")
    assert skeleton("abel") != skeleton("bel")


@given(st.text(max_size=60))
def test_any_text_is_compared_and_is_the_same_as_itself(name: str) -> None:
    words = name_words(name)
    assert words == name_words(" ".join(words)) or not words
    assert compare_names(name, name).how == ("same" if words else "")
    assert all(0 < len(key) <= 24 for key in name_keys(name))


@given(st.text(max_size=40), st.text(max_size=40))
def test_likeness_is_the_same_from_either_side(one: str, other: str) -> None:
    found, turned = compare_names(one, other), compare_names(other, one)
    if "same" in (found.how, turned.how):
        assert found.how == turned.how


def test_a_phone_is_its_last_nine_digits() -> None:
    assert phone_key("00 44 1632 960201") == phone_key("(01632) 960 201") == "632960201"
    assert phone_key("ext. 12345") == ""


def test_a_mail_without_its_sign_has_no_domain() -> None:
    assert mail_domain("nobody") == ""
    assert mail_domain("a@B.example ") == "b.example"


@pytest.mark.parametrize(
    ("one", "other", "why"),
    [
        ({"mail": "Tam@Corvale.example "}, {"mail": "tam@corvale.example"}, ("mail",)),
        ({"mail": ""}, {"mail": ""}, ()),
        ({"phone": "+44 1632 960-221"}, {"phone": "01632 960221"}, ("phone",)),
        ({"phone": "112"}, {"phone": "112"}, ()),
        ({"name": "RUDDOCK Tam"}, {"name": "Tam Ruddock"}, ("name_same",)),
        ({"name": "Tamsin Ruddock"}, {"name": "Tamsin Rudock"}, ("name_near",)),
        ({"name": "Tam Ruddock"}, {"name": "Ada Finch"}, ()),
        (
            {"name": "T. Ruddock", "mail": "tam@corvale.example", "phone": "960221"},
            {"name": "Ada Finch", "mail": "TAM@corvale.example", "phone": "960 221"},
            ("mail", "phone"),
        ),
    ],
)
def test_two_entries_may_be_of_one_person(
    one: dict[str, str], other: dict[str, str], why: tuple[str, ...]
) -> None:
    assert compare_people(PersonMarks(**one), PersonMarks(**other)) == why
    assert compare_people(PersonMarks(**other), PersonMarks(**one)) == why
