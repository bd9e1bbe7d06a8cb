"""From priced lines to the payable: discounts, tax, rounding, margin, next breaks."""

from routecore.totals.document import price_document
from routecore.totals.lines import Line, PricedLine
from routecore.totals.result import NextBreak, PricedDocument, Problem, Totals
from routecore.totals.tax import TaxComponent, TaxRow, TaxTable
from routecore.totals.terms import DocumentDiscount, DocumentTerms

__all__ = [
    "DocumentDiscount",
    "DocumentTerms",
    "Line",
    "NextBreak",
    "PricedDocument",
    "PricedLine",
    "Problem",
    "TaxComponent",
    "TaxRow",
    "TaxTable",
    "Totals",
    "price_document",
]
