"""What a person saw when they acted: an act on anything else is refused.

A mark covers what a rep can type and what it came to: every line's price and net, and the sums. The
desk sends the mark of what it showed with each act; where it is not the mark of what is stored, nothing
happens, and the person is told what became of the total.
"""

from dataclasses import dataclass
from typing import Any

from apps.errors import Refused
from apps.quotes.drafts import digest
from apps.quotes.models import Revision


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """The mark of what was shown, and its total, as decimal text."""

    mark: str
    payable: str


def figures_mark(content_mark: str, priced: dict[str, Any]) -> str:
    """The mark of typed content and the figures that it came to."""
    lines = [
        [line[name] for name in ("id", "price", "per", "unit", "net")] for line in priced["lines"]
    ]
    totals = priced["totals"]
    sums = [totals[name] for name in ("net", "tax_total", "payable")]
    return digest([content_mark, lines, sums])


def mark_of(revision: Revision) -> str:
    """The mark of a revision as it is stored."""
    return figures_mark(revision.content_mark, revision.priced)


def check_seen(revision: Revision, seen: Seen | None) -> None:
    """Refuse an act on a revision that is not what was seen; None is the house's own act."""
    if seen is None or seen.mark == mark_of(revision):
        return
    refuse_unseen(seen.payable, revision.priced["totals"]["payable"], revision.currency)


def refuse_unseen(before: str, now: str, currency: str) -> None:
    """Say what became of the total that was seen."""
    if before != now:
        raise Refused("total_changed", facts={"from": before, "to": now, "currency": currency})
    raise Refused("changed_unseen")
