"""Writing the core's answer down: in a draft at each save, on the lines for good at the issue."""

from collections.abc import Iterable, Sequence

from apps.quotes.models import QuoteLine, Revision
from apps.quotes.pricing.question import DraftLine, stored_form
from routecore.casefile.words import plain
from routecore.casefile.writer import Json
from routecore.totals import Excess, PricedDocument, PricedLine


def note_answer(
    revision: Revision,
    priced: PricedDocument,
    lines: Sequence[DraftLine],
    excesses: Iterable[Excess] = (),
) -> None:
    """Put the answer and its sums on the revision, with what the house asks and what exceeds."""
    totals = priced.totals
    revision.priced = stored_form(priced)
    revision.priced["problems"] += house_problems(lines)
    revision.priced["excesses"] = [_excess(excess) for excess in excesses]
    revision.lines_net = totals.lines_net
    revision.net = totals.net
    revision.tax_total = totals.tax_total
    revision.payable_rounding = totals.payable_rounding
    revision.payable = totals.payable


def _excess(excess: Excess) -> Json:
    return {
        "code": excess.code,
        "line": excess.line,
        "found": plain(excess.found),
        "limit": plain(excess.limit),
    }


def house_problems(lines: Sequence[DraftLine]) -> list[dict[str, str]]:
    """What the house asks beyond the core: a price agreed by hand says why."""
    return [
        {"line": line.key, "code": "reason_needed"}
        for line in lines
        if line.price is not None and not line.price_reason.strip()
    ]


def figures_of(revision: Revision) -> list[object]:
    """Every price and net of the lines, and the sums: what the rep saw."""
    lines = [(row["id"], row["price"], row["net"]) for row in revision.priced["lines"]]
    return [*lines, revision.priced["totals"]["net"], revision.priced["totals"]["payable"]]


FROZEN = ("price", "per", "price_unit", "net", "discount_share", "tax_category")


def freeze_line(row: QuoteLine, result: PricedLine, tax_category: str) -> None:
    """What the line came to, in its own columns."""
    row.price = result.price
    row.per = result.per
    row.price_unit = result.unit
    row.net = result.net
    row.discount_share = result.document_discount_share
    row.tax_category = tax_category
