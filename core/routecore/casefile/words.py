"""A price trail in plain words, and decimals as text."""

from decimal import ROUND_HALF_UP, Decimal

from routecore.exact import CONTEXT, SIX_DECIMALS
from routecore.pricing import PassedOver, Step


def plain(value: Decimal | None, least_digits: int = 0) -> str | None:
    """A decimal without exponent or needless zeros, with at least so many decimals.

    >>> plain(Decimal("41.5"), 2), plain(Decimal("1E+2")), plain(Decimal("0.384500"), 2)
    ('41.50', '100', '0.3845')
    """
    if value is None:
        return None
    text = f"{value:f}"
    whole, _, digits = text.partition(".")
    digits = digits.rstrip("0").ljust(least_digits, "0")
    return f"{whole}.{digits}" if digits else whole


def describe_step(step: Step, digits: int) -> str:
    """One step in words.

    >>> describe_step(Step(code="typed", value=Decimal(9), per=Decimal(1), unit="H87"), 2)
    'typed 9.00 per 1 H87'
    """
    if step.code == "needs_price":
        return "no price holds"
    if step.code in ("line_discount", "rule"):
        name = "line discount" if step.code == "line_discount" else step.source
        percent = f" {plain(step.percent)} %" if step.percent is not None else ""
        return f"{name}{percent} takes off {plain(_cut(step.value), digits)}"
    words = {"typed": "typed", "derived": f"{step.source} derives", "converted": "converted"}
    since = f", from {plain(step.from_quantity)}" if step.from_quantity else ""
    rate = f", {step.currency} at {plain(step.rate)} of {step.day}" if step.rate else ""
    name = words.get(step.code, step.source)
    return f"{name} {plain(step.value, digits)} per {plain(step.per)} {step.unit}{since}{rate}"


def _cut(value: Decimal | None) -> Decimal | None:
    """An unrounded amount, to the six decimals that a trail shows."""
    return None if value is None else value.quantize(SIX_DECIMALS, ROUND_HALF_UP, CONTEXT)


REASONS = {
    "not_yet_valid": "not valid before {day}",
    "expired": "expired on {day}",
    "below": "below {start} {unit}{currency}",
    "not_enough": "only {start} {unit} left",
    "other_currency": "in {currency}, and no rate is given",
    "replaced": "replaced by the typed price",
    "no_entry": "has no entry for the item",
    "not_measurable": "cannot measure the line",
    "net_price": "leaves a net price alone",
    "not_greatest": "another takes off more",
    "not_exclusive": "an exclusive rule stands alone",
}


def describe_passed(passed: PassedOver, digits: int) -> str:
    """One passed-over candidate or rule in words.

    >>> describe_passed(PassedOver(source="price_list:base", reason="no_entry"), 2)
    'passed over price_list:base: has no entry for the item'
    """
    words = REASONS[passed.reason].format(
        day=passed.day,
        start=plain(passed.from_quantity),
        unit=passed.unit,
        currency=passed.currency,
    )
    price = f" at {plain(passed.price, digits)}" if passed.price is not None else ""
    return f"passed over {passed.source}{price}: {words.strip()}"
