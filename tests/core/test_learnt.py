"""Chances that are learnt from what became of earlier deals."""

from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from routecore.forecast import Decided, Experience, learn

D = Decimal


def deals(won: int, lost: int, *stages: str, rep: str = "", size: str = "") -> list[Decided]:
    """So many won and lost, all of which stood in these stages."""
    return [
        Decided(won=n < won, stages=frozenset(stages), rep=rep, size=size)
        for n in range(won + lost)
    ]


def percent(found: Experience, stage: str, **who: str) -> Decimal:
    told = found.learnt(stage, **who)
    assert told is not None
    return told.percent


def test_a_stage_is_pulled_toward_the_share_of_all_by_ten_deals() -> None:
    """30 of 60 won overall; of the 20 that stood in the stage 16: (16 + 10 × ½) ÷ (20 + 10) = 70 %."""
    found = learn([*deals(16, 4, "quoted"), *deals(14, 26, "talking")])
    told = found.learnt("quoted")
    assert told is not None
    assert (told.percent, told.won, told.decided, told.thin) == (D("70.0"), 16, 20, False)


def test_a_stage_that_nothing_was_decided_from_has_the_share_of_all_and_says_so() -> None:
    told = learn(deals(3, 9, "talking")).learnt("new stage")
    assert told is not None
    assert (told.percent, told.decided, told.thin) == (D("25.0"), 0, True)


def test_nothing_decided_teaches_nothing() -> None:
    assert learn([]).learnt("quoted") is None


def test_a_rep_is_told_apart_from_ten_deals_on() -> None:
    """Stage: (12 + 10 × 12/28) ÷ 38 = 3/7, since all stood in it; of ten of Ilse's nine were won: (9 + 30/7) ÷ 20 = 66.4 %."""
    nine = [*deals(8, 1, "quoted", rep="ilse"), *deals(4, 15, "quoted", rep="tomas")]
    assert percent(learn(nine), "quoted", rep="ilse") == percent(learn(nine), "quoted")
    ten = [*nine[:-1], *deals(1, 0, "quoted", rep="ilse")]
    # 13 of 28 are won now: the stage is 13/28, and hers (9 + 10 × 13/28) ÷ 20.
    assert percent(learn(ten), "quoted", rep="ilse") == D("68.2")
    told = learn(ten).learnt("quoted", rep="ilse")
    assert told is not None
    assert (told.by, told.won, told.decided) == (("rep",), 9, 10)


def test_the_narrowest_group_that_carries_it_is_taken() -> None:
    rows = [
        *deals(9, 3, "quoted", rep="ilse", size="large"),
        *deals(2, 8, "quoted", rep="ilse", size="small"),
        *deals(5, 5, "quoted", rep="tomas", size="large"),
    ]
    found = learn(rows)
    by = {
        who: found.learnt("quoted", rep=who[0], size=who[1])
        for who in (("ilse", "large"), ("ilse", "other"), ("amara", "large"), ("amara", "other"))
    }
    assert [told.by if told else None for told in by.values()] == [
        ("rep", "size"),
        ("rep",),
        ("size",),
        (),
    ]


history = st.lists(
    st.builds(
        Decided,
        won=st.booleans(),
        stages=st.frozensets(st.sampled_from(["talking", "quoted", "deciding"]), min_size=1),
        rep=st.sampled_from(["ilse", "tomas"]),
        size=st.sampled_from(["small", "large"]),
    ),
    max_size=60,
)


@given(history)
def test_a_chance_lies_between_its_own_share_and_what_it_is_pulled_toward(
    rows: list[Decided],
) -> None:
    found = learn(rows)
    for stage in ("talking", "quoted", "deciding"):
        told = found.learnt(stage)
        if not rows:
            assert told is None
            continue
        assert told is not None
        overall = 100 * sum(row.won for row in rows) / len(rows)
        stood = [row.won for row in rows if stage in row.stages]
        own = 100 * sum(stood) / len(stood) if stood else overall
        assert min(own, overall) - 0.06 <= told.percent <= max(own, overall) + 0.06
        assert (told.won, told.decided) == (sum(stood), len(stood))


@given(history, st.randoms())
def test_the_order_of_the_deals_does_not_matter(rows: list[Decided], random: object) -> None:
    mixed = list(rows)
    random.shuffle(mixed)  # type: ignore[attr-defined]
    for stage in ("talking", "quoted"):
        assert learn(rows).learnt(stage, rep="ilse") == learn(mixed).learnt(stage, rep="ilse")
