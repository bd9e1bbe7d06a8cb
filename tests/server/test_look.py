"""The wording of a paper: whatever is accepted can be filled in, in every language."""

from hypothesis import given
from hypothesis import strategies as st
import pytest

from apps.errors import Invalid
from apps.papers.document import line_numbers
from apps.papers.look import FACTS, PAPERS, SENTENCES, check_wording, read_look
from apps.papers.words import LANGUAGES, language_of

FILLED = dict.fromkeys(FACTS, "—")
PIECE = st.one_of(
    st.text(max_size=12), st.sampled_from([f"{{{fact}}}" for fact in FACTS]), st.just("{{")
)


@given(st.lists(PIECE, max_size=6).map("".join))
def test_what_is_accepted_can_be_filled_in(words: str) -> None:
    try:
        kept = check_wording({"en": {"hold": words}}, LANGUAGES)
    except Invalid as refused:
        assert refused.path == "wording.en.hold"
        return
    for sentence in kept.get("en", {}).values():
        sentence.format(**FILLED)


@pytest.mark.parametrize(
    "words", ["{until!r}", "{until:>99999}", "{0}", "{}", "{mail.x}", "{a}", "}"]
)
def test_nothing_but_the_facts_stands_in_braces(words: str) -> None:
    with pytest.raises(Invalid):
        check_wording({"de": {"accept": words}}, LANGUAGES)


def test_empty_sentences_fall_back_to_what_ships() -> None:
    assert check_wording({"en": {"hold": "  ", "closing": " Thank you "}, "de": {}}, LANGUAGES) == {
        "en": {"closing": "Thank you"}
    }


def test_every_language_has_every_word_and_its_sentences_can_be_filled_in() -> None:
    words = {code: set(language.words) for code, language in LANGUAGES.items()}
    assert words["de"] == words["en"]
    for language in LANGUAGES.values():
        for key in SENTENCES:
            language.words[key].format(**FILLED)
    assert language_of("pt").code == "en"


def test_a_shipped_look_reads_back_as_itself() -> None:
    for look in PAPERS.values():
        assert read_look(look.as_data()) == look


@given(st.lists(st.sampled_from(("normal", "alternative", "optional", "heading", "note"))))
def test_counted_lines_are_numbered_without_gaps(kinds: list[str]) -> None:
    numbers = line_numbers(kinds)
    whole = [number for number in numbers if number.isdigit()]
    assert whole == [str(n + 1) for n in range(len(whole))]
    assert len(numbers) == len(kinds)
    assert [n == "" for n in numbers] == [kind in ("heading", "note") for kind in kinds]
