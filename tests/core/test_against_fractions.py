"""Documents of every shape against the same rules in exact fractions (``oracle``)."""

from datetime import date
from decimal import Decimal
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from routecore.pricing import (
    Agreement,
    Customer,
    CustomerPrice,
    DiscountRule,
    Item,
    PriceBook,
    PriceEntry,
    PriceList,
    Tier,
)
from routecore.quantity import Units
from routecore.totals import Line, PricedDocument
from tests.core.build import DAY, D, price
from tests.core.oracle import Document, World

FARM = Customer(id="FARM")
ITEMS = tuple(
    Item(
        id=name,
        units=Units(base="H87", factors={"BX": D(box), "PF": D("0.75")}),
        group="posts" if n < 2 else "wire",
        weight_kg=None if n == 2 else D("1.7"),
        cost=D(1),
        minimum_quantity=least and D(least),  # type: ignore[arg-type]
        pack_multiple=pack and D(pack),  # type: ignore[arg-type]
    )
    for n, (name, box, least, pack) in enumerate(
        [("A", "3", None, None), ("B", "7", "5", "2"), ("C", "12", None, "5")]
    )
)
PLAIN = [PriceEntry(item=item.id, unit="H87", price=D(10)) for item in ITEMS]
UNITS = st.sampled_from(["H87", "BX", "PF"])
prices = st.decimals("0.01", "20", places=2)
amounts = st.integers(0, 40).map(D)


def entries(discountable: st.SearchStrategy[bool]) -> st.SearchStrategy[PriceEntry]:
    return st.builds(
        lambda item, unit, per, value, start, net, first: PriceEntry(
            item=item.id,
            unit=unit,
            price=value,
            per=per,
            from_quantity=start,
            discountable=net,
            valid_from=first,
        ),
        st.sampled_from(ITEMS),
        UNITS,
        st.sampled_from([D(1), D(7), D(100)]),
        prices,
        amounts,
        discountable,
        st.sampled_from([None, DAY, date(2026, 4, 1)]),
    )


def tiers(kind: str) -> st.SearchStrategy[tuple[Tier, ...]]:
    value = st.integers(0, 30).map(D) if kind == "percent" else st.decimals("0", "3", places=2)
    return st.dictionaries(amounts, value, min_size=1, max_size=3).map(
        lambda found: tuple(Tier(start=start, **{kind: found[start]}) for start in sorted(found))
    )


rules = st.sampled_from(["percent", "percent", "per_unit", "per_line"]).flatmap(
    lambda kind: st.builds(
        lambda steps, item, group, measure, unit, over, graduated, exclusive: DiscountRule(
            id="",
            tiers=steps,
            item=item,
            group=group,
            measure=measure,
            unit=unit,
            over=over,
            graduated=graduated and kind != "per_line",
            exclusive=exclusive,
        ),
        tiers(kind),
        st.sampled_from([None, None, "A"]),
        st.sampled_from([None, "posts"]),
        st.sampled_from(["quantity", "amount", "weight"]),
        st.sampled_from([None, "BX"]),
        st.sampled_from(["line", "group", "document"]),
        st.booleans(),
        st.sampled_from([False, False, True]),
    )
)


def named(found: list[DiscountRule]) -> list[DiscountRule]:
    return [
        DiscountRule(
            id=f"R{n}", tiers=r.tiers, item=r.item, group=r.group, measure=r.measure, unit=r.unit,
            over=r.over, graduated=r.graduated, exclusive=r.exclusive,
        )
        for n, r in enumerate(found)
    ]  # fmt: skip


def agreements(found: list[tuple[PriceEntry, Decimal]]) -> list[Agreement]:
    return [
        Agreement(id=f"FA{n}", customer="FARM", currency="EUR", remaining=left, entry=entry)
        for n, (entry, left) in enumerate(found)
    ]


worlds = st.builds(
    lambda trade, base, own, agreed, found, policy: World(
        on=DAY,
        lists=[("price_list:trade", trade), ("price_list:base", [*PLAIN, *base])],
        customer_prices=[CustomerPrice(customer="FARM", currency="EUR", entry=e) for e in own],
        agreements=agreements(agreed),
        rules=named(found),
        policy=policy,
    ),
    st.lists(entries(st.just(True)), max_size=3),
    st.lists(entries(st.sampled_from([True, True, False])), max_size=5),
    st.lists(entries(st.booleans()), max_size=2),
    st.lists(st.tuples(entries(st.booleans()), st.integers(0, 60).map(D)), max_size=2),
    st.lists(rules, max_size=4),
    st.sampled_from(["chain", "add", "best"]),
)
lines = st.lists(
    st.builds(
        lambda item, quantity, unit, kind, typed, off: (item, quantity, unit, kind, typed, off),
        st.sampled_from(ITEMS),
        st.one_of(st.integers(1, 30).map(D), st.decimals("0.1", "9", places=1)),
        UNITS,
        st.sampled_from(["normal", "normal", "normal", "optional"]),
        st.one_of(st.none(), st.none(), st.none(), prices),
        st.one_of(st.none(), st.none(), st.integers(0, 100).map(D)),
    ),
    min_size=1,
    max_size=4,
)


def made(rows: list[tuple[Item, Decimal, str, str, Decimal | None, Decimal | None]]) -> list[Line]:
    return [
        Line(
            id=str(n),
            item=item,
            quantity=q,
            unit=unit,
            kind=kind,
            price=typed,
            discount_percent=off,
        )
        for n, (item, q, unit, kind, typed, off) in enumerate(rows)
    ]


def book_of(world: World) -> PriceBook:
    return PriceBook(
        lists={
            "trade": PriceList(id="trade", currency="EUR", entries=tuple(world.lists[0][1])),
            "base": PriceList(id="base", currency="EUR", entries=tuple(world.lists[1][1])),
        },
        customer=Customer(id="FARM", price_list="trade"),
        customer_prices=world.customer_prices,
        agreements=world.agreements,
        rules=world.rules,
        policy=world.policy,
    )


def priced(world: World, given: list[Line]) -> PricedDocument:
    return price(given, book_of(world))


@given(world=worlds, rows=lines)
def test_every_net_price_and_draw_down_is_the_exact_one(world: World, rows: list) -> None:  # type: ignore[type-arg]
    given = made(rows)
    exact = Document(world, given)
    for n, line in enumerate(priced(world, given).lines):
        offer = exact.offers[n]
        assert line.source == (offer.source if offer else "")
        if offer:
            assert Fraction(line.net or 0) == exact.net(n)


@given(world=worlds, rows=lines)
def test_what_the_rules_give_is_the_same_line_without_its_price(world: World, rows: list) -> None:  # type: ignore[type-arg]
    given = made(rows)
    exact = Document(world, given)
    for n, line in enumerate(priced(world, given).lines):
        if exact.offers[n] is None:
            continue
        plain = exact.with_line(n, price=None, discount_percent=None)
        assert (line.by_rules is None) == (plain.offers[n] is None)
        if line.by_rules is not None:
            assert Fraction(line.by_rules) == plain.net(n)


MOST = 70
"""How far up every quantity is tried."""


def grid(line: Line) -> list[Decimal]:
    """Every quantity that can be typed, above the line's, the least first."""
    found = []
    factor = Fraction(line.item.units.factor(line.unit))
    least, pack = line.item.minimum_quantity, line.item.pack_multiple
    steps = range(1, MOST + 1) if pack is None else [Fraction(n, 12) for n in range(1, 12 * MOST)]
    for step in steps:
        quantity = Fraction(step)
        base = quantity * factor
        if pack is not None and (base / Fraction(pack)).denominator != 1:
            continue
        typed = Fraction(quantity * 10**6)
        if (
            typed.denominator == 1
            and base >= Fraction(least or 0)
            and quantity > Fraction(line.quantity)
        ):
            found.append(Decimal(int(typed)) / 10**6)
    return found


def unbeaten(there: Document, n: int, rule: DiscountRule) -> bool:
    """Whether no other rule stands alone and takes more."""
    taken = there.takings(n)
    if any(other.id == rule.id for other, _ in taken):
        return True
    [(other, off)] = taken
    own = there.off(n, rule, there.tier(n, rule), there.amount(n))
    return own >= off and other.exclusive <= rule.exclusive


def truth(world: World, given: list[Line], n: int) -> dict[str, tuple[Decimal, Fraction, Fraction]]:
    """The breaks of a line by trying every quantity: name → quantity, new net, saves."""
    now = Document(world, given)
    tiers_now = {rule.id: now.tier(n, rule) for rule in world.rules}
    found: dict[str, tuple[Decimal, Fraction, Fraction]] = {}
    seen_price = False
    highest, last_row = dict(tiers_now), now.offers[n].row  # type: ignore[union-attr]
    for quantity in grid(given[n]):
        there = now.with_line(n, quantity=quantity)
        offer = there.offers[n]
        if offer is None:
            continue
        tiers = {rule.id: there.tier(n, rule) for rule in world.rules}
        plain = {r.id: tiers[r.id] for r in world.rules if not r.graduated}
        wanted = now.wanted_at(n, quantity)
        saves = now.net(n) - wanted.net(n, plain)
        changed = sum(tiers[name] != tiers_now[name] for name in tiers)
        repriced = offer.row is not now.offers[n].row  # type: ignore[union-attr]
        cheaper = offer.per_base_unit < now.offers[n].per_base_unit  # type: ignore[union-attr]
        if repriced and cheaper and not seen_price and saves > 0:
            kept = Document(world, there.lines)
            kept.offers[n] = now.offers[n]
            kept_tiers = {r.id: kept.tier(n, r) for r in world.rules if not r.graduated}
            if not changed or now.net(n, kept_tiers) > wanted.net(n, plain):
                seen_price = True
                found["price"] = quantity, there.lines_net(), saves
        fresh = {
            r.id for r in world.rules if offer.row is not last_row or tiers[r.id] > highest[r.id]
        }
        last_row = offer.row
        highest = {name: max(tier, highest[name]) for name, tier in tiers.items()}
        for rule in world.rules:
            if rule.id in found or tiers[rule.id] <= tiers_now[rule.id]:
                continue
            if rule.graduated:
                steps, was = rule.tiers, tiers_now[rule.id]
                before = steps[was].rate if was >= 0 else D(0)
                more = any(steps[k].rate > before for k in range(was + 1, tiers[rule.id] + 1))
                if not (more and rule.id in fresh and saves >= 0 and unbeaten(there, n, rule)):
                    continue
                if there.amount(n) <= sum(off for _, off in there.takings(n)):
                    continue
            else:
                if saves <= 0:
                    continue
                if changed + repriced > 1:
                    back = {**plain, rule.id: tiers_now[rule.id]}
                    if wanted.net(n, back) <= wanted.net(n, plain):
                        continue
            found[rule.id] = quantity, there.lines_net(), saves
    return found


@given(world=worlds, rows=lines)
def test_every_next_break_is_least_true_and_none_is_missing(world: World, rows: list) -> None:  # type: ignore[type-arg]
    given = made(rows)
    document = priced(world, given)
    shared = {rule.id for rule in world.rules if rule.graduated and rule.over != "line"}
    sources = {row.id: row.source for row in document.lines}
    for n, line in enumerate(given):
        if not line.counted or line.price is not None or not sources[line.id]:
            assert not [step for step in document.next_breaks if step.line == line.id]
            continue
        shown = {
            step.rule if step.rule.startswith("R") else "price": (
                step.quantity, Fraction(step.new_net), Fraction(step.saves),
            )
            for step in document.next_breaks
            if step.line == line.id
        }  # fmt: skip
        reachable = {name: step for name, step in shown.items() if step[0] <= grid(line)[-1]}
        expected = {
            name: (quantity, net, max(saves, Fraction(0)))
            for name, (quantity, net, saves) in truth(world, given, n).items()
            if name not in shared or name in shown
        }
        assert reachable == expected
