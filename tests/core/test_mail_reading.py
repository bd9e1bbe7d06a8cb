"""Reading a mail into lines: each rule by an example, the corpus as a whole, and that nothing breaks the reader."""

from decimal import Decimal

from hypothesis import given, settings
from hypothesis import strategies as st
import pytest

from ops.corpus import PARTS, goods, judge, samples, scores
from routecore.reading.counting import german_number, number_in_words
from routecore.reading.goods import Good, Goods
from routecore.reading.letters import fresh, language_of
from routecore.reading.mails import MailLine, read_mail
from routecore.reading.sentences import clauses_of
from routecore.reading.signs import apart, stem
from routecore.reading.traps import traps_of

KNOWN = goods()
ALL = [sample for part in PARTS for sample in samples(part)]


def read(text: str) -> list[str]:
    """Each line as "sure 12 RL NET-730", doubts in the place of "sure"."""
    return [told(line) for line in read_mail(text, KNOWN).lines]


def told(line: MailLine) -> str:
    code = KNOWN.known[line.items[0].item].good.code
    return f"{'+'.join(line.doubts) or 'sure'} {line.quantity} {line.unit} {code}"


@pytest.mark.parametrize(
    ("rule", "text", "lines"),
    [
        ("a number, then the goods", "12 hail nets black", ["sure 12 RL NET-730"]),
        ("the goods, then a number", "hail net black: 12", ["sure 12 RL NET-730"]),
        ("in words", "a dozen pruning saws", ["sure 12 H87 TOO-SAW"]),
        ("in German words", "zweihundertfünfzig Erntekisten", ["sure 250 H87 BIN-CRA"]),
        ("by its code", "4 x net-bir", ["sure 4 RL NET-BIR"]),
        ("misspelt", "60 chesnut posts 250 cm", ["sure 60 H87 POS-250"]),
        ("a pack", "3 pallets of coir blocks", ["sure 3 PF SUB-COC"]),
        ("a pack and what it holds", "2 pallets (120 posts) of chestnut posts 250 cm", ["sure 2 PF POS-250"]),
        ("so much of it", "400 m drip line 16 mm", ["sure 400 MTR DRI-016"]),
        ("a size is no number", "bird net 5 x 100 m", ["quantity None RL NET-BIR"]),
        ("its sizes alone, after the thing", "Nursery pots: 400 of 3 l and 600 of 5 l", ["sure 400 H87 POT-03", "sure 600 H87 POT-05"]),
        ("what it has is no number", "6 frost alarms with two probes", ["sure 6 H87 FRO-FAN"]),
        ("two things alike", "300 chestnut posts", ["item 300 H87 POS-200"]),
        ("another size than there is", "100 chestnut posts 225 cm", ["item 100 H87 POS-200"]),
        ("about so many", "roughly 500 bamboo stakes 120 cm", ["quantity 500 H87 STK-120"]),
        ("one number or another", "10 or 12 bird nets", ["quantity 10 RL NET-BIR"]),
        ("by condition", "If it freezes we need 180 frost candles", ["wanted 180 H87 FRO-420"]),
        ("a number alone for wire", "12 galvanised wire 2.5 mm", ["unit 12 RL WIR-025"]),
        ("not wanted", "We do not need the 20 bird nets", []),
        ("there already", "We still have 40 bird nets", []),
        ("instead of", "Instead of 200 please send 240 steel posts 250 cm", ["sure 240 H87 POS-S25"]),
        ("guests", "We have 40 guests. 6 bird nets please", ["sure 6 RL NET-BIR"]),
        ("how many fields it is for", "For the three fields we need 24 hail nets black", ["sure 24 RL NET-730"]),
        ("in German, with a word for people that looks like wire", "Für die drei Felder brauchen wir 24 Hagelnetze schwarz", ["sure 24 RL NET-730"]),
        ("a day, a room, a floor", "On 12 March in room 14 on the 2nd floor: 6 bird nets", ["sure 6 RL NET-BIR"]),
        ("another number that is not understood", "7 of 8 bird nets", ["quantity 8 RL NET-BIR"]),
    ],
)  # fmt: skip
def test_a_sentence_is_read_by_its_rule(rule: str, text: str, lines: list[str]) -> None:
    assert read(text) == lines, rule


def test_thousands_are_read_as_the_language_writes_them() -> None:
    assert read("Bitte 1.200 m Tropfrohr 16 mm") == ["sure 1200 MTR DRI-016"]
    assert read("Please 1,200 m drip line 16 mm") == ["sure 1200 MTR DRI-016"]
    assert read("please send 1.200 net clips") == ["quantity 1200 H87 NET-CLI"]


def test_quoted_history_signature_and_small_print_are_left_out() -> None:
    reading = read_mail(
        "6 bird nets\n\nKind regards\nMab\n20 years of berries\n\nOn 3 March Ilse wrote:\n> 12 hail nets black",
        KNOWN,
    )
    assert [told(line) for line in reading.lines] == ["sure 6 RL NET-BIR"]
    assert {part.why for part in reading.left_out} == {"signature", "quoted"}


def test_what_is_not_understood_refused_or_told_is_shown_with_its_sentence() -> None:
    reading = read_mail(
        "6 pairs of waders and 6 bird nets. We do not need the frost candles.", KNOWN
    )
    assert [(aside.why, aside.sentence) for aside in reading.asides] == [
        ("unknown", "6 pairs of waders and 6 bird nets."),
        ("refused", "We do not need the frost candles."),
    ]


def test_of_things_alike_the_one_that_is_usually_bought_comes_first() -> None:
    known = {each.good.code: key for key, each in KNOWN.known.items()}
    [line] = read_mail("300 chestnut posts", KNOWN, usual={known["POS-250"]}).lines
    assert line.items[0].item == known["POS-250"]
    assert "item" in line.doubts


def test_a_word_of_ones_own_names_an_item() -> None:
    good = Good(key=7, code="X-1", called=("Widget", "blue wonder"), base="H87", sold_in="H87")
    [line] = read_mail("12 blue wonders", Goods([good])).lines
    assert (line.items[0].item, line.quantity, line.doubts) == (7, Decimal(12), ())


def test_a_line_stands_where_it_was_read() -> None:
    text = "Hello,\n\nplease send 12 hail nets black."
    [line] = read_mail(text, KNOWN).lines
    assert text[line.start :].startswith("hail nets black")
    assert line.words == "hail nets black"


@pytest.mark.parametrize("part", PARTS)
def test_the_corpus_holds_nothing_twice_and_names_only_goods_that_exist(part: str) -> None:
    codes = {known.good.code for known in KNOWN.known.values()}
    rows = list(samples(part))
    assert len({row.text for row in rows}) == len(rows)
    assert {code for row in rows for wanted in row.wanted for code in wanted.codes} <= codes


def test_of_the_sure_lines_99_in_100_are_right_and_of_the_wanted_ones_92_are_found() -> None:
    found = scores([judge(sample, KNOWN) for sample in ALL])
    assert found["precision"] >= 0.99
    assert found["recall"] >= 0.92


WORDS = st.sampled_from(
    ["12", "250", "1.200", "7x30", "hail", "net", "nets", "black", "posts", "chestnut", "250", "cm", "m", "of", "and", "or", "not", "please", ",", ":", ";", "(", ")", "-", "drip", "line", "16", "mm", "POS-250", "two", "dozen", "hundred", "zwei", "halbe", "Rollen", "each", "about", "if", "instead", "€", "8.10", "12.3.", "a", "x", "5", "%"]
)  # fmt: skip


@given(st.one_of(st.text(max_size=200), st.lists(WORDS, max_size=25).map(" ".join)))
@settings(max_examples=200, deadline=None)
def test_no_text_breaks_the_reader_and_each_line_names_an_item_of_the_house(text: str) -> None:
    reading = read_mail(text, KNOWN)
    for line in reading.lines:
        assert line.items and all(meant.item in KNOWN.known for meant in line.items)
        assert line.quantity is None or line.quantity > 0
        assert line.quantity is not None or "quantity" in line.doubts
        good = KNOWN.known[line.items[0].item].good
        assert not line.sure or good.has_unit(line.unit)
        assert text[line.start :].startswith(line.words[:1])


@given(st.integers(1, 999))
def test_a_german_number_in_words_is_that_number(number: int) -> None:
    assert german_number(_german(number)) == number


def _german(number: int) -> str:
    ones = "ein zwei drei vier funf sechs sieben acht neun zehn elf zwolf dreizehn vierzehn funfzehn sechzehn siebzehn achtzehn neunzehn"
    tens = ["zwanzig", "dreissig", "vierzig", "funfzig", "sechzig", "siebzig", "achtzig", "neunzig"]
    hundreds, rest = divmod(number, 100)
    text = f"{ones.split()[hundreds - 1]}hundert" if hundreds else ""
    if rest > 19:
        one = ones.split()[rest % 10 - 1] + "und" if rest % 10 else ""
        return text + one + tens[rest // 10 - 2]
    return text + (ones.split()[rest - 1] if rest else "")


@given(st.text("abcdef", max_size=7), st.text("abcdef", max_size=7))
def test_how_far_two_words_are_apart_is_the_same_both_ways(one: str, other: str) -> None:
    assert apart(one, other, 9) == apart(other, one, 9)
    assert (apart(one, other, 9) == 0) == (one == other)


def test_small_rules_of_words() -> None:
    assert stem("loppers") == stem("lopper")
    assert number_in_words(["twenty", "five", "posts"]) == (Decimal(25), 2)
    assert number_in_words(["eine", "halbe", "palette"]) == (Decimal("0.5"), 2)
    assert language_of("Bitte 20 Netze") == "de"
    assert not traps_of("250 posts and 12 nets")
    assert [clause.mood for clause in clauses_of("no clips")] == ["refused"]
    assert fresh("20 nets\n-- \nMab").text.strip() == "20 nets"
