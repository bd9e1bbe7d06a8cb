"""From what was accepted of offers to an order: what it will be, and writing it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from django.db import transaction

from apps.catalogue.queries import tax_table
from apps.customers.addresses import addresses_of, delivery_address
from apps.deals.flows import close_as_won
from apps.diary.flows import settle_follow_ups
from apps.errors import FlowError, Invalid, Missing, check_version
from apps.journal.flows import record_changes
from apps.numbering.flows import next_number
from apps.orders.carrying import acceptance_of, lines_of, order_of
from apps.orders.models import Order, OrderLine
from apps.orders.offers import Offer, Take, Want, offer_of, take_of, usual_wants
from apps.orders.promises import store_promised
from apps.people.access import sells
from apps.people.models import User
from apps.quotes.drafts import digest
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.models import Quote, Revision
from apps.quotes.pricing.excesses import Line, excesses_when_taken, kept_excess
from apps.quotes.queries import own_revision
from apps.quotes.seen import Seen, mark_of, refuse_unseen
from apps.quotes.state import lock_revision, require
from apps.stock.models import Depot
from routecore.casefile.words import plain
from routecore.errors import CoreError
from routecore.money import minor_digits
from routecore.totals import Excess, PartSums, Totals, total_parts


@dataclass(frozen=True, slots=True, kw_only=True)
class Source:
    """An offer that an order is written from, and what of it.

    ``wants`` None is all that counts and is left, with the alternatives and options of ``take``.
    """

    revision_id: int
    version: int = 0
    wants: tuple[Want, ...] | None = None
    take: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """An order before it is written: what it takes of each offer, and what it comes to.

    ``mark`` is of all that: an act on another plan is refused. ``places`` are the addresses of lines that
    go elsewhere.
    """

    takes: tuple[Take, ...]
    totals: Totals
    parts: tuple[PartSums, ...]
    places: Mapping[int, dict[str, str]]
    mark: str

    @property
    def revision(self) -> Revision:
        """The offer whose terms the order has."""
        return self.takes[0].offer.revision

    @property
    def beyond(self) -> bool:
        """Whether it takes more than was offered."""
        return any(take.beyond for take in self.takes)


def plan_order(who: User, sources: Sequence[Source], *, today: date, beyond: bool = True) -> Plan:
    """What the order would be; nothing is changed. Raises as ``write_order`` does."""
    revisions = [own_revision(who, each.revision_id) for each in sources]
    for revision in revisions:
        require("accept", revision, today)
    return _plan(revisions, sources, today, beyond=beyond)


def plan_for_buyer(revision: Revision, source: Source, *, today: date, beyond: bool) -> Plan:
    """What an order would be that the buyer of an issued revision chose themselves."""
    require("accept", revision, today)
    return _plan([revision], [source], today, beyond=beyond)


def _plan(
    revisions: Sequence[Revision], sources: Sequence[Source], today: date, *, beyond: bool
) -> Plan:
    _one_buyer(revisions)
    takes = tuple(
        _take(offer_of(revision), source, n, beyond=beyond)
        for n, (revision, source) in enumerate(zip(revisions, sources, strict=True))
    )
    try:
        totals, parts = total_parts([take.part for take in takes], tax_table())
    except CoreError as error:
        raise Invalid.of(error, path="sources") from error
    places = _places(revisions[0], takes, today)
    return Plan(takes=takes, totals=totals, parts=parts, places=places, mark=_mark(takes, totals))


def _places(revision: Revision, takes: Sequence[Take], today: date) -> Mapping[int, dict[str, str]]:
    """Where lines go that go elsewhere; refused where a place, a depot or a day cannot be."""
    wants = [row.want for take in takes for row in take.rows]
    if any(want.wanted_on and want.wanted_on < today for want in wants):
        raise Invalid("date_gone_by", path="wanted_on")
    depots = {want.depot_id for want in wants if want.depot_id is not None}
    if depots and Depot.objects.filter(pk__in=depots).count() < len(depots):
        raise Missing("not_found", facts={"what": "depot"})
    ids = (want.address_id for want in wants if want.address_id is not None)
    return addresses_of(revision.quote.customer, ids)


def _take(offer: Offer, source: Source, n: int, *, beyond: bool) -> Take:
    try:
        wants = usual_wants(offer, source.take) if source.wants is None else source.wants
        return take_of(offer, wants, beyond=beyond)
    except FlowError as error:
        error.path = f"sources[{n}].{error.path}"
        raise


def _one_buyer(revisions: Sequence[Revision]) -> None:
    """Several offers make one order only of one customer, each once."""
    if not revisions:
        raise Invalid("required", path="sources")
    first = revisions[0]
    for row in revisions[1:]:
        if row.quote.customer_id != first.quote.customer_id:
            raise Invalid(
                "other_customer", path="sources", facts={"customer": row.quote.customer.name}
            )
    if len({row.pk for row in revisions}) < len(revisions):
        raise Invalid("double_id", path="sources")


def _mark(takes: Sequence[Take], totals: Totals) -> str:
    rows = [
        [take.offer.revision.pk, mark_of(take.offer.revision)]
        + [[row.line.row.key, row.quantity, row.net, row.line.before.quantity] for row in take.rows]
        for take in takes
    ]
    return digest([rows, totals.net, totals.tax_total, totals.payable])


@transaction.atomic
def write_order(
    who: User,
    revision_id: int,
    version: int,
    *,
    today: date,
    now: datetime,
    close_deal: bool,
    buyer_reference: str = "",
    requested_on: date | None = None,
    delivery_address_id: int | None = None,
    partial_deliveries: bool | None = None,
    take: Sequence[str] = (),
    wants: Sequence[Want] | None = None,
    more: Sequence[Source] = (),
    beyond: bool = False,
    seen: Seen | None = None,
) -> Order:
    """The buyer accepted: an order with what they take of the offer, prices locked.

    ``take`` names the alternatives (each in the place of its line) and options that the buyer wants;
    ``wants`` says line by line how much, from where, by when and to which address. ``more`` are further offers of
    the same order. ``beyond``: more than was offered is meant. ``partial_deliveries`` None is as the customer has
    it. ``seen`` has the mark of the plan (or, for a whole offer, of the revision) and the total.

    Only the newest issued revision can be accepted, as long as something of it is left and it holds.
    """
    wanted = None if wants is None else tuple(wants)
    first = Source(revision_id=revision_id, version=version, take=tuple(take), wants=wanted)
    _refuse_past(requested_on, today)
    plan = _agreed(who, (first, *more), today, beyond=beyond, seen=seen)
    order = order_of(plan.revision, plan.totals, number=next_number("O", today), today=today)
    order.buyer_reference = (buyer_reference or plan.revision.buyer_reference).strip()
    order.requested_on = requested_on
    order.delivery_address = delivery_address(order.customer, delivery_address_id)
    order.partial_deliveries = _in_parts(order, partial_deliveries)
    order.save()
    _store(who, order, plan, today=today, now=now)
    _tell(who, plan, order, now, close_deal=close_deal)
    return order


@transaction.atomic
def order_now(
    who: User,
    revision_id: int,
    version: int,
    *,
    today: date,
    now: datetime,
    close_deal: bool,
    buyer_reference: str = "",
    requested_on: date | None = None,
    delivery_address_id: int | None = None,
    seen: Seen | None = None,
) -> Order:
    """An order without an offer: a draft becomes one in a single act, at the prices that were ``seen``.

    Refused as issuing it would be, where it has a problem or goes beyond a limit that nobody signed off.
    """
    issued = issue_revision(who, revision_id, version, today=today, now=now, seen=seen)
    Quote.objects.filter(pk=issued.quote_id).update(direct=True)
    return write_order(
        who,
        issued.pk,
        issued.version,
        today=today,
        now=now,
        close_deal=close_deal,
        buyer_reference=buyer_reference,
        requested_on=requested_on,
        delivery_address_id=delivery_address_id,
    )


def _refuse_past(day: date | None, today: date) -> None:
    if day is not None and day < today:
        raise Invalid("date_gone_by", path="requested_on")


def _in_parts(order: Order, said: bool | None) -> bool:
    return order.customer.partial_deliveries if said is None else said


def _agreed(
    who: User, sources: Sequence[Source], today: date, *, beyond: bool, seen: Seen | None
) -> Plan:
    """The plan of an order that may be written, with its offers locked, as it was seen."""
    plan = _plan(_acceptable(who, sources, today), sources, today, beyond=beyond)
    _as_seen(plan, seen)
    return plan


def _acceptable(who: User, sources: Sequence[Source], today: date) -> list[Revision]:
    """The revisions, locked in one order whoever asks, where this person may accept them."""
    sells(who)
    if len({each.revision_id for each in sources}) < len(sources):
        raise Invalid("double_id", path="sources")
    locked = {}
    for each in sorted(sources, key=lambda source: source.revision_id):
        revision = lock_revision(who, each.revision_id)
        require("accept", revision, today)
        check_version(revision.version, each.version, "quote")
        locked[each.revision_id] = revision
    return [locked[each.revision_id] for each in sources]


def _as_seen(plan: Plan, seen: Seen | None) -> None:
    """Refuse an order of anything else than the person saw: the plan, or the offer as a whole."""
    if seen is None:
        return
    currency = plan.revision.currency
    payable = plain(plan.totals.payable, minor_digits(currency)) or ""
    if seen.payable != payable or seen.mark not in (plan.mark, mark_of(plan.revision)):
        refuse_unseen(seen.payable, payable, currency)


def beyond_limits(who: User, plan: Plan, today: date) -> list[tuple[Excess, ...]]:
    """By offer, what goes beyond a limit that the offer did not; what was offered is within them by itself.

    Credit is not among them: the customer's standing tells it, with the order counted.
    """
    if not plan.beyond and not any(take.chosen for take in plan.takes):
        return [() for _ in plan.takes]
    return [
        tuple(
            row
            for row in excesses_when_taken(
                who,
                take.offer.revision,
                _taken(take, part),
                discount=part.discount,
                payable=plan.totals.payable,
                today=today,
            )
            if row.code != "credit"
        )
        for take, part in zip(plan.takes, plan.parts, strict=True)
    ]


def _taken(take: Take, part: PartSums) -> list[Line]:
    return [
        Line(row=row.line.row, quantity=row.quantity, net=row.net, share=share)
        for row, share in zip(take.rows, part.shares, strict=True)
    ]


def _store(who: User, order: Order, plan: Plan, *, today: date, now: datetime) -> None:
    """The lines with their promises; what was taken of each offer comes last, for its figures follow from both."""
    store_promised(
        order, lines_of(order, plan.takes, plan.parts, plan.places), today=today, now=now
    )
    exceeded = beyond_limits(who, plan, today)
    for take, part, beyond in zip(plan.takes, plan.parts, exceeded, strict=True):
        acceptance = acceptance_of(order, take.offer.revision, part)
        acceptance.excesses = [kept_excess(row) for row in beyond]
        acceptance.save()


def _tell(who: User, plan: Plan, order: Order, now: datetime, *, close_deal: bool) -> None:
    """The record, the follow-ups and the deals hear that quotes became an order."""
    for take in plan.takes:
        revision = take.offer.revision
        quote = revision.quote
        became = "ordered" if take.last else "part_ordered"
        field = f"revision {revision.letter}"
        changes = {field: ("issued", became)}
        if take.beyond:
            changes["beyond"] = ("", order.number)
        record_changes(who, "quote", quote.pk, changes)
        if take.last:
            settle_follow_ups(quote.pk, now=now)
        if quote.deal_id and close_deal:
            close_as_won(who, quote.deal_id, now)


def order_mark(order: Order, lines: Iterable[OrderLine]) -> str:
    """A mark of what is handed over: the lines, the sums, where the goods go."""
    rows = [
        [line.position, line.item_id, line.quantity, line.price, line.net]
        + ([line.delivery_address] if line.delivery_address else [])
        for line in lines
    ]
    sums = [order.net, order.tax_total, order.payable]
    whole = [] if order.partial_deliveries else ["whole"]
    return digest([rows, sums, order.delivery_address, order.requested_on, *whole])
