"""What was offered, what of it was ordered already, and what an order takes of the rest."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal

from django.db.models import Sum

from apps.catalogue.models import Item
from apps.errors import Invalid, Refused
from apps.orders.models import Acceptance, OrderLine
from apps.quotes.models import WORDS_ONLY, QuoteLine, Revision
from apps.quotes.pricing.question import terms_of
from routecore.casefile.words import plain
from routecore.ordering import Given, Offered, TakenUp, is_left, net_of_part, terms_of_part
from routecore.quantity import check_quantity
from routecore.totals import Part

#: A line of an order may be split over so many places and days, an offer's over so many lines.
MOST_WANTS = 1000


@dataclass(frozen=True, slots=True, kw_only=True)
class Want:
    """So much of an offered line; ``quantity`` None is all that is left of it.

    ``depot_id``, ``wanted_on`` and ``address_id`` None are what the quote line, or the order, says.
    """

    key: str
    quantity: Decimal | None = None
    depot_id: int | None = None
    wanted_on: date | None = None
    address_id: int | None = None


@dataclass(slots=True, kw_only=True)
class OfferedLine:
    """An offered line with what was ordered of it before."""

    row: QuoteLine
    before: TakenUp

    @property
    def left(self) -> Decimal:
        """What of it was not ordered yet; nothing where more was."""
        return max((self.row.quantity or Decimal(0)) - self.before.quantity, Decimal(0))


@dataclass(slots=True, kw_only=True)
class Offer:
    """An issued revision as something to be ordered from."""

    revision: Revision
    lines: dict[str, OfferedLine]
    given: Given

    def is_original(self, key: str) -> bool:
        """Whether a line counts in the offer by itself."""
        return self.lines[key].row.kind == "normal"

    def replaced(self, taken: Iterable[str]) -> dict[str, str]:
        """By line, the alternative that stands in its place: taken now, or in an earlier order."""
        now = set(taken)
        return {
            line.row.alternative_to: key
            for key, line in self.lines.items()
            if line.row.kind == "alternative" and (line.before.quantity or key in now)
        }


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """A line of the order to be: of an offered line, so much, at this net."""

    line: OfferedLine
    want: Want
    quantity: Decimal
    net: Decimal

    @property
    def item(self) -> Item:
        """What it is a line of."""
        assert self.line.row.item is not None  # a heading is not offered
        return self.line.row.item


@dataclass(frozen=True, slots=True, kw_only=True)
class Take:
    """What an order takes of one offer; of ``left`` lines something is left then."""

    offer: Offer
    rows: tuple[Taken, ...]
    left: int
    beyond: tuple[str, ...] = field(default=())

    @property
    def last(self) -> bool:
        """Whether nothing of the offer is left then."""
        return self.left == 0

    @property
    def chosen(self) -> bool:
        """Whether an alternative or an option is among it."""
        return any(row.line.row.kind != "normal" for row in self.rows)

    @property
    def part(self) -> Part:
        """Its lines under the offer's terms, for the sums."""
        lines_net = sum((row.net for row in self.rows), Decimal(0))
        revision = self.offer.revision
        terms = terms_of_part(
            terms_of(revision), revision.lines_net, lines_net, self.offer.given, last=self.last
        )
        return Part(
            terms=terms, nets=tuple((row.net, row.line.row.tax_category) for row in self.rows)
        )


def offer_of(revision: Revision) -> Offer:
    """The offer with what orders took of it. Five queries."""
    rows = (
        revision.lines.exclude(kind__in=WORDS_ONLY)
        .select_related("item__group")
        .prefetch_related("item__units")
    )
    taken = {
        line: TakenUp(quantity=quantity, net=net)
        for line, quantity, net in OrderLine.objects.filter(
            quote_line__revision=revision, order__cancelled_at=None
        )
        .values_list("quote_line")
        .annotate(Sum("quantity"), Sum("net"))
    }
    lines = {row.key: OfferedLine(row=row, before=taken.get(row.pk, TakenUp())) for row in rows}
    return Offer(revision=revision, lines=lines, given=given_before(revision)[0])


def given_before(revision: Revision, *, without: int = 0) -> tuple[Given, int]:
    """What orders took of an offer's discount and charges, one of them left out; and the newest of those."""
    found, newest = Given(), 0
    rows = Acceptance.objects.filter(revision=revision, order__cancelled_at=None)
    for row in rows.exclude(order=without).order_by("pk"):
        charges = [Decimal(amount) for amount in row.charges]
        before = (*found.charges, *([Decimal(0)] * (len(charges) - len(found.charges))))
        found = Given(
            lines_net=found.lines_net + row.lines_net,
            discount=found.discount + row.discount,
            charges=tuple(a + b for a, b in zip(before, charges, strict=True)),
        )
        newest = row.pk
    return found, newest


def usual_wants(offer: Offer, take: Sequence[str] = ()) -> list[Want]:
    """All that counts and is left, with these alternatives, each in the place of its line, and options."""
    for key in take:
        if key not in offer.lines or offer.is_original(key):
            raise Invalid("unknown_choice", path="take")
    instead = offer.replaced(take)
    return [
        Want(key=key)
        for key, line in offer.lines.items()
        if (
            key in take
            or key in instead.values()
            or (offer.is_original(key) and key not in instead)
        )
        and (key in take or line.left)
    ]


def take_of(offer: Offer, wants: Sequence[Want], *, beyond: bool = False) -> Take:
    """What the order takes, priced as it was offered.

    ``beyond``: more than was offered may be taken; without it that is refused. Raises ``Invalid`` for what
    was not offered, two alternatives for one line, a line beside its alternative, and a quantity that
    breaks a pack or a minimum which the offered quantity keeps.
    """
    if not wants or len(wants) > MOST_WANTS:
        raise Invalid("required", path="lines", facts={"what": "line"})
    _choices_fit(offer, wants)
    taken, over, sofar = _all_taken(offer, wants, beyond=beyond)
    instead = offer.replaced(want.key for want in wants)
    left = sum(
        is_left(line.row.quantity or Decimal(0), sofar[key].quantity)
        for key, line in offer.lines.items()
        if (offer.is_original(key) and key not in instead) or key in instead.values()
    )
    return Take(offer=offer, rows=tuple(taken), left=left, beyond=tuple(over))


def _all_taken(
    offer: Offer, wants: Sequence[Want], *, beyond: bool
) -> tuple[list[Taken], list[str], dict[str, TakenUp]]:
    """The lines of the order, those of which more is taken than was offered, and what is taken of each by then."""
    taken: list[Taken] = []
    over: list[str] = []
    sofar = {key: line.before for key, line in offer.lines.items()}
    for n, want in enumerate(wants):
        row = _taken(offer.lines[want.key], want, sofar[want.key], offer.revision.currency, n)
        before = sofar[want.key]
        sofar[want.key] = TakenUp(quantity=before.quantity + row.quantity, net=before.net + row.net)
        if sofar[want.key].quantity > (row.line.row.quantity or 0):
            over.append(want.key)
            if not beyond:
                raise _too_much(row, before, n)
        taken.append(row)
    return taken, over, sofar


def _choices_fit(offer: Offer, wants: Sequence[Want]) -> None:
    """One of a line and its alternatives, and only what was offered and has a price."""
    keys = {want.key for want in wants}
    for n, want in enumerate(wants):
        if want.key not in offer.lines:
            raise Invalid("unknown_choice", path=f"lines[{n}].key", facts={"what": "take"})
        if offer.lines[want.key].row.net is None:
            raise Invalid("needs_price", path="take")
    chosen = [
        (line.row.alternative_to, key)
        for key, line in offer.lines.items()
        if line.row.kind == "alternative" and (line.before.quantity or key in keys)
    ]
    originals = [original for original, _ in chosen]
    if len(originals) != len(set(originals)):
        raise Invalid("two_for_one", path="take")
    for original in originals:
        if original in keys or (original in offer.lines and offer.lines[original].before.quantity):
            raise Invalid("both_of_one", path="take")


def _taken(line: OfferedLine, want: Want, before: TakenUp, currency: str, n: int) -> Taken:
    row = line.row
    offered = Offered(quantity=row.quantity or Decimal(0), net=row.net or Decimal(0))
    quantity = max(offered.quantity - before.quantity, Decimal(0))
    if want.quantity is not None:
        _fits(row, want.quantity, left=quantity, n=n)
        quantity = want.quantity
    if quantity <= 0:
        raise Refused("nothing_left", path=f"lines[{n}].quantity", facts={"text": row.text})
    net = net_of_part(offered, quantity, currency, before)
    return Taken(line=line, want=want, quantity=quantity, net=net)


def _fits(row: QuoteLine, quantity: Decimal, *, left: Decimal, n: int) -> None:
    """Whole packs and the minimum; what is left is always right."""
    if quantity <= 0:
        raise Invalid("not_positive", path=f"lines[{n}].quantity", facts={"value": quantity})
    item = row.item
    if item is None or quantity == left:
        return
    require_packs(item, row.unit, quantity, path=f"lines[{n}].quantity", text=row.text)


def require_packs(item: Item, unit: str, quantity: Decimal, *, path: str, text: str) -> None:
    """Refuse a part of a line that breaks a pack or a minimum, with the nearest that do not."""
    factors = {each.unit_id: each.factor for each in item.units.all()}
    fault = check_quantity(
        quantity,
        unit_factor=factors.get(unit, Decimal(1)),
        minimum=item.minimum_quantity,
        multiple=item.pack_multiple,
    )
    if fault is not None:
        near = [amount for amount in (fault.below, fault.above) if amount is not None]
        what = ("part_none", "part_one", "part")[len(near)]
        facts = {"what": what, "near": near[0] if near else None, "text": text}
        more = {"below": fault.below, "above": fault.above}
        raise Invalid(fault.code, path=path, facts={**facts, **more})


def _too_much(row: Taken, before: TakenUp, n: int) -> Refused:
    offered = row.line.row.quantity or Decimal(0)
    facts = {
        "text": row.line.row.text,
        "offered": plain(offered),
        "left": plain(max(offered - before.quantity, Decimal(0))),
        "unit": row.line.row.unit,
    }
    return Refused("beyond_offered", path=f"lines[{n}].quantity", facts=facts)


def with_place(want: Want, row: QuoteLine) -> Want:
    """The want with what its quote line says where it says nothing itself."""
    return replace(
        want,
        depot_id=want.depot_id or row.depot_id,
        wanted_on=want.wanted_on or row.wanted_on,
    )
