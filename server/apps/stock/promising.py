"""The promise of each line of a document: in stock, coming, or short; and what else could be done.

Lines of one document stand behind each other: what an earlier one takes is not there for the next.
Alternatives and options are answered as if they were taken, and take nothing.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from decimal import Decimal

from django.conf import settings

from apps.catalogue.models import MADE, SERVICE, Item, ItemUnit
from apps.stock.calendars import on_the_way
from apps.stock.models import Depot, Substitute
from apps.stock.plans import Plan, Plans, depots, plans_of
from routecore import promise
from routecore.promise import Answer, Proposal, Rules

#: Nothing is promised of what has no stock: a service, an item that the back office does not keep.
NO_STOCK = "none"
ONE = Decimal(1)


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """A line that asks: how much of an item in its base unit, from which depot, by when.

    ``depot`` None is the usual one. ``step`` is the multiple of the base unit that it is sold in;
    ``country`` where it goes, where that is not the document's.
    """

    key: str
    item: int
    quantity: Decimal
    depot: int | None = None
    on: date | None = None
    counts: bool = True
    step: Decimal = ONE
    country: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Promised:
    """A line's promise. ``kind``: ``in_stock``, ``coming``, ``short``, ``none``.

    ``late`` is whether it comes after the wanted day; ``age`` how old the back office's figures are,
    ``stale`` whether that is older than the house allows; ``free`` what can be promised now; ``made`` whether it
    is to be made first, for want of any that is planned.
    """

    key: str
    kind: str
    depot: int | None = None
    answer: Answer | None = None
    free: Decimal = Decimal(0)
    made: bool = False
    late: bool = False
    age: timedelta = timedelta(0)
    stale: bool = False
    proposals: tuple[Proposal, ...] = ()


def promises(
    lines: Sequence[Wanted],
    *,
    buyer_country: str,
    today: date,
    now: datetime,
    places: list[Depot] | None = None,
) -> dict[str, Promised]:
    """By the lines' keys. The same queries, however many lines; ``places`` are the depots, where known."""
    places = depots() if places is None else places
    if not places:
        return {line.key: Promised(key=line.key, kind=NO_STOCK) for line in lines}
    others = _substitutes({line.item for line in lines})
    items = {line.item for line in lines} | {
        row.instead_id for rows in others.values() for row in rows
    }
    plans = plans_of(items, places)
    desk = _Desk(
        places=places,
        kinds=dict(Item.objects.filter(pk__among=items).values_list("pk", "kind")),
        others=others,
        plans=plans,
        buyer=buyer_country,
        today=today,
        now=now,
    )
    return {line.key: desk.asked(line) for line in lines}


@dataclass(frozen=True, slots=True, kw_only=True)
class Ordered:
    """A line of an order that has not left; its key is the line's own. ``by`` is when it is wanted."""

    key: str
    item: int
    depot: int | None
    quantity: Decimal
    by: date | None = None
    country: str = ""


def held_promises(
    order_number: str,
    lines: Sequence[Ordered],
    *,
    buyer_country: str,
    today: date,
    now: datetime,
    propose: bool = False,
) -> dict[str, Promised]:
    """When what was ordered already can leave, with everybody served in order of their days.

    ``propose``: also what else could be done about each line that is not there, as if it gave back what it holds.
    """
    places = depots()
    items = {line.item for line in lines}
    others = _substitutes(items) if propose else {}
    plans = plans_of(items | {row.instead_id for rows in others.values() for row in rows}, places)
    desk = _Desk(
        places=places,
        kinds={},
        others=others,
        plans=plans,
        buyer=buyer_country,
        today=today,
        now=now,
    )
    return {line.key: desk.held(order_number, line, propose) for line in lines}


def _substitutes(items: set[int]) -> dict[int, list[Substitute]]:
    found: dict[int, list[Substitute]] = {}
    for row in Substitute.objects.filter(item_id__among=items, instead__active=True):
        found.setdefault(row.item_id, []).append(row)
    return found


def factors_of(items: Iterable[int]) -> dict[tuple[int, str], Decimal]:
    """How many base units one of each other unit holds. One query."""
    rows = ItemUnit.objects.filter(item_id__among=items)
    return {
        (item, unit): factor
        for item, unit, factor in rows.values_list("item_id", "unit_id", "factor")
    }


@dataclass(slots=True, kw_only=True)
class _Desk:
    """What answers one document's lines, one after the other."""

    places: list[Depot]
    kinds: Mapping[int, str]
    others: Mapping[int, list[Substitute]]
    plans: Plans
    buyer: str
    today: date
    now: datetime
    _known: dict[tuple[int, int | None, Decimal, str], Rules] = field(default_factory=dict)

    def asked(self, line: Wanted) -> Promised:
        """A line's promise; what it takes is taken from those after it."""
        depot = line.depot or self.places[0].pk
        plan = self.plans.get((line.item, depot))
        if self.kinds.get(line.item) == SERVICE or plan is None:
            return Promised(key=line.key, kind=NO_STOCK, depot=depot)
        rules = self._rules(plan, line.step, line.country)
        answer = promise.answer_of(plan.stock, line.quantity, self.today, rules)
        made = self.kinds[line.item] == MADE and answer.kind == promise.SHORT and bool(answer.whole)
        if made:
            answer = replace(answer, kind=promise.COMING, missing=Decimal(0))
        asks = answer.kind != promise.IN_STOCK
        if line.counts and answer.whole is not None:
            self._take(plan, line, answer.whole.leaves)
        proposals = self._proposals(line, plan, rules) if asks else ()
        late = not answer.in_time(line.on)
        return self._promised(line.key, plan, answer, late=late, made=made, proposals=proposals)

    def held(self, order_number: str, line: Ordered, propose: bool) -> Promised:
        """An order line's promise; ``none`` where nothing is kept for it."""
        depot = line.depot or (self.places[0].pk if self.places else 0)
        plan = self.plans.get((line.item, depot))
        if plan is None:
            return Promised(key=line.key, kind=NO_STOCK, depot=line.depot)
        names = {f"ours:{line.key}", *plan.kept_for.get(order_number, ())}
        own = [row for row in promise.held_dates(plan.stock, self.today) if row.line in names]
        if not own:
            return Promised(key=line.key, kind=NO_STOCK, depot=depot)
        free = promise.periods_of(plan.stock, self.today)[0].by_then
        rules = self._rules(plan, country=line.country)
        answer = self._answer_of_held(own, line.quantity, rules, free)
        proposals: tuple[Proposal, ...] = ()
        if propose and answer.kind != promise.IN_STOCK:
            proposals = self._instead_of_held(line, plan, rules, names)
        late = not answer.in_time(line.by)
        return self._promised(line.key, plan, answer, late=late, proposals=proposals)

    def _instead_of_held(
        self, line: Ordered, plan: Plan, rules: Rules, names: set[str]
    ) -> tuple[Proposal, ...]:
        """Asked anew for what the line holds, with that given back."""
        kept = plan.stock.commitments
        wanted = Wanted(
            key=line.key,
            item=line.item,
            quantity=sum((row.quantity for row in kept if row.line in names), Decimal(0)),
            country=line.country,
        )
        rest = tuple(row for row in kept if row.line not in names)
        freed = replace(plan, stock=replace(plan.stock, commitments=rest))
        return self._proposals(wanted, freed, rules)

    def _answer_of_held(
        self, own: Sequence[promise.Held], quantity: Decimal, rules: Rules, free: Decimal
    ) -> Answer:
        days = [row.there for row in own if row.there is not None]
        if len(days) < len(own):
            # Below zero, it is how much more is promised than there is.
            missing = min(quantity, -free) if free < 0 else quantity
            return Answer(kind=promise.SHORT, whole=None, free=free, missing=missing)
        leaves = rules.calendar.first_from(max(days))
        whole = promise.Part(quantity=quantity, leaves=leaves, arrives=rules.arrives(leaves))
        there = all(row.there is not None and row.there <= self.today for row in own)
        kind = promise.IN_STOCK if there else promise.COMING
        return Answer(kind=kind, whole=whole, free=free)

    def _promised(
        self,
        key: str,
        plan: Plan,
        answer: Answer,
        *,
        late: bool,
        made: bool = False,
        proposals: tuple[Proposal, ...] = (),
    ) -> Promised:
        age = self.now - plan.told_at
        return Promised(
            key=key,
            kind=answer.kind,
            depot=plan.depot.pk,
            answer=answer,
            free=max(answer.free, Decimal(0)),
            made=made,
            late=late,
            age=age,
            stale=age > timedelta(hours=settings.STOCK_STALE_HOURS),
            proposals=proposals,
        )

    def _take(self, plan: Plan, line: Wanted, leaves: date) -> None:
        mine = promise.Commitment(line=f"here:{line.key}", quantity=line.quantity, by=leaves)
        stock = replace(plan.stock, commitments=(*plan.stock.commitments, mine))
        self.plans[line.item, plan.depot.pk] = replace(plan, stock=stock)

    def _rules(self, plan: Plan, step: Decimal = ONE, country: str = "") -> Rules:
        buyer = country or self.buyer
        depot, key = plan.depot, (plan.depot.pk, plan.lead_days, step, buyer)
        known = self._known.get(key)
        if known is not None:
            return known
        abroad = bool(buyer) and buyer != depot.country
        rules = self._known[key] = Rules(
            calendar=on_the_way(depot.country, depot.region, buyer, self.today),
            lead_days=plan.lead_days,
            transit_days=depot.transit_days_abroad if abroad else depot.transit_days,
            step=step,
        )
        return rules

    def _proposals(self, line: Wanted, plan: Plan, rules: Rules) -> tuple[Proposal, ...]:
        """As of before this line took anything."""
        elsewhere = {
            str(place.pk): (other.stock, self._rules(other, line.step, line.country))
            for place in self.places
            if place.pk != plan.depot.pk and (other := self.plans.get((line.item, place.pk)))
        }
        instead = {
            str(row.instead_id): (
                other.stock,
                self._rules(other, country=line.country),
                line.quantity * row.factor,
            )
            for row in self.others.get(line.item, ())
            if (other := self.plans.get((row.instead_id, plan.depot.pk)))
        }
        return promise.proposals(
            plan.stock, line.quantity, self.today, rules, elsewhere=elsewhere, instead=instead
        )
