"""The price case file: JSON in, JSON out."""

from routecore.casefile.compare import Difference, differences
from routecore.casefile.faults import CaseFaults, Fault
from routecore.casefile.load import load_case
from routecore.casefile.reader import Case, read_case
from routecore.casefile.writer import result_of

__all__ = [
    "Case",
    "CaseFaults",
    "Difference",
    "Fault",
    "differences",
    "load_case",
    "price_case",
    "read_case",
    "result_of",
]


def price_case(data: object) -> dict[str, object]:
    """The result of one case, as JSON-ready data; raises ``CaseFaults`` for a malformed one."""
    case = read_case(data)
    return result_of(case.price(), case.tax_reasons)
