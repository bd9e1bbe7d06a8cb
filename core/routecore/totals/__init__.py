"""From priced lines to the payable: discounts, charges, tax, rounding, margin, next breaks."""

from routecore.totals.document import price_alone, price_document
from routecore.totals.limits import (
    Excess,
    Limits,
    Taken,
    exceeded,
    exceeded_when_taken,
    worse,
)
from routecore.totals.lines import Line, PricedLine
from routecore.totals.parts import Part, PartSums, total_parts
from routecore.totals.result import ChargeRow, NextBreak, PricedDocument, Problem, Totals
from routecore.totals.solve import Solution, solve_document
from routecore.totals.solve_line import LineSolution, solve_line
from routecore.totals.tax import TaxComponent, TaxRow, TaxTable
from routecore.totals.terms import Charge, DocumentDiscount, DocumentTerms

__all__ = [
    "Charge",
    "ChargeRow",
    "DocumentDiscount",
    "DocumentTerms",
    "Excess",
    "Limits",
    "Line",
    "LineSolution",
    "NextBreak",
    "Part",
    "PartSums",
    "PricedDocument",
    "PricedLine",
    "Problem",
    "Solution",
    "Taken",
    "TaxComponent",
    "TaxRow",
    "TaxTable",
    "Totals",
    "exceeded",
    "exceeded_when_taken",
    "price_alone",
    "price_document",
    "solve_document",
    "solve_line",
    "total_parts",
    "worse",
]
