"""A part of an offer is ordered now, the rest later: each part at the offered terms, all adding up.

An offered line has a net for its whole quantity. A part of it comes to the net of all that is ordered by
then, in proportion and rounded once, less the net of what was ordered before: whatever the parts are, those of
the whole quantity add up to the offered net exactly. So do the parts of a document discount and of a charge.

Source: splitting so that the parts add up is rule 1 of this house; that the offered price holds for a part as well
is common practice, no source.
"""

from dataclasses import dataclass, replace
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import EXACT, ZERO, nearest
from routecore.money import in_own_context, minor_unit, round_amount
from routecore.totals.terms import Charge, DocumentDiscount, DocumentTerms


@dataclass(frozen=True, slots=True, kw_only=True)
class Offered:
    """A line as it was offered: its quantity, and the net of all of it."""

    quantity: Decimal
    net: Decimal

    def __post_init__(self) -> None:
        if self.quantity <= 0:
            raise InvalidInput("not_positive", path="quantity", facts={"value": self.quantity})


@dataclass(frozen=True, slots=True, kw_only=True)
class TakenUp:
    """What earlier orders took of a line: its quantity, in the line's unit, and its net."""

    quantity: Decimal = ZERO
    net: Decimal = ZERO


NOTHING = TakenUp()


@in_own_context
def net_of_part(
    offered: Offered, quantity: Decimal, currency: str, before: TakenUp = NOTHING
) -> Decimal:
    """The net of a further part of an offered line, to the minor unit; never below nothing.

    More than was offered costs as much for a piece as what was offered.

    >>> third = Offered(quantity=Decimal(3), net=Decimal("10.00"))
    >>> net_of_part(third, Decimal(1), "EUR")
    Decimal('3.33')
    >>> net_of_part(third, Decimal(2), "EUR", TakenUp(quantity=Decimal(1), net=Decimal("3.33")))
    Decimal('6.67')
    """
    if quantity <= 0:
        raise InvalidInput("not_positive", path="quantity", facts={"value": quantity})
    reached = EXACT.multiply(offered.net, before.quantity + quantity)
    whole = nearest(reached, offered.quantity, minor_unit(currency))
    return max(whole - before.net, round_amount(ZERO, currency))


@in_own_context
def net_of_kept(line: Offered, kept: Decimal, currency: str) -> Decimal:
    """The net of what is kept of an ordered line once the rest was taken back, in proportion, rounded once.

    >>> net_of_kept(Offered(quantity=Decimal(3), net=Decimal("10.00")), Decimal(2), "EUR")
    Decimal('6.67')
    >>> net_of_kept(Offered(quantity=Decimal(3), net=Decimal("10.00")), Decimal(0), "EUR")
    Decimal('0.00')
    """
    if not 0 <= kept <= line.quantity:
        raise InvalidInput("out_of_range", path="quantity", facts={"value": kept})
    return nearest(EXACT.multiply(line.net, kept), line.quantity, minor_unit(currency))


def is_left(offered: Decimal, taken: Decimal) -> bool:
    """Whether anything of an offered quantity was not ordered yet.

    >>> is_left(Decimal(100), Decimal(60)), is_left(Decimal(100), Decimal(120))
    (True, False)
    """
    return taken < offered


@dataclass(frozen=True, slots=True, kw_only=True)
class Given:
    """What earlier orders of an offer came to.

    Their lines' net; their discount, on the net or on the gross as the offer names it; their charges, in
    the offer's order.
    """

    lines_net: Decimal = ZERO
    discount: Decimal = ZERO
    charges: tuple[Decimal, ...] = ()


@in_own_context
def terms_of_part(
    terms: DocumentTerms, offered_net: Decimal, part_net: Decimal, given: Given, *, last: bool
) -> DocumentTerms:
    """The terms of an order of a part: discount and charges that, with the earlier ones, are in proportion.

    ``offered_net`` is the net of the offer's counted lines, ``part_net`` that of this order's. With the
    ``last`` part all that was offered as an amount is given. A percent stays a percent of all that is
    ordered by now; one on the gross is taken on each order's own gross.
    """
    reached = given.lines_net + part_net
    discount = terms.discount
    if discount is not None and not (discount.on == "gross" and discount.amount is None):
        discount = DocumentDiscount(
            amount=_rest(
                _discount_of(discount, terms, offered_net, reached, last=last), given.discount
            ),
            on=discount.on,
        )
    known = (*given.charges, *([ZERO] * len(terms.charges)))
    charges = tuple(
        Charge(
            name=charge.name,
            amount=_rest(_charge_of(charge, terms, offered_net, reached, last=last), before),
            tax_category=charge.tax_category,
        )
        for charge, before in zip(terms.charges, known, strict=False)
    )
    return replace(terms, discount=discount, charges=charges)


def _discount_of(
    discount: DocumentDiscount,
    terms: DocumentTerms,
    offered_net: Decimal,
    reached: Decimal,
    *,
    last: bool,
) -> Decimal:
    """The discount on all that is ordered by now."""
    if discount.amount is None:
        return discount.off(reached, terms.currency)
    return _in_proportion(discount.amount, offered_net, reached, terms.currency, last=last)


def _charge_of(
    charge: Charge, terms: DocumentTerms, offered_net: Decimal, reached: Decimal, *, last: bool
) -> Decimal:
    if charge.amount is None:
        return charge.on(reached, terms.currency)
    return _in_proportion(charge.amount, offered_net, reached, terms.currency, last=last)


def _in_proportion(
    amount: Decimal, offered_net: Decimal, reached: Decimal, currency: str, *, last: bool
) -> Decimal:
    """So much of an amount as was ordered of the whole; all of it with the last part."""
    if last or reached >= offered_net:
        return round_amount(amount, currency)
    return nearest(EXACT.multiply(amount, reached), offered_net, minor_unit(currency))


def _rest(reached: Decimal, before: Decimal) -> Decimal:
    return max(reached - before, ZERO)
