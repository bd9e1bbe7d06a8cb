"""From JSON to the core's values, with every fault under its path.

Source of the format: ``docs/case-format.md``. Reading costs as much as there is to read.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from routecore.casefile.document import (
    read_customer,
    read_lines,
    read_reasons,
    read_taxes,
    read_terms,
)
from routecore.casefile.faults import CaseFaults, Fault, Node
from routecore.casefile.goods import read_items
from routecore.casefile.prices import (
    read_agreements,
    read_customer_prices,
    read_lists,
    read_rates,
)
from routecore.casefile.rules import read_rules
from routecore.pricing import PriceBook
from routecore.pricing.rules import POLICIES
from routecore.totals import DocumentTerms, Line, PricedDocument, TaxComponent, price_document


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """All that one computation needs, and what it is expected to give."""

    terms: DocumentTerms
    book: PriceBook
    lines: tuple[Line, ...]
    taxes: Mapping[str, tuple[TaxComponent, ...]]
    tax_reasons: Mapping[str, str]
    expect: Mapping[str, object] | None

    def price(self) -> PricedDocument:
        """The priced document."""
        return price_document(self.terms, self.book, self.lines, self.taxes, self.tax_reasons)


def read_case(data: object) -> Case:
    """Read a case; raises ``CaseFaults`` with every fault found."""
    faults: list[Fault] = []
    root = Node(data, "", faults)
    if faults:
        raise CaseFaults(faults)
    items = read_items(root)
    customer = read_customer(root)
    lists = read_lists(root, items, customer)
    taxes = read_taxes(root)
    terms = read_terms(root, taxes)
    lines = tuple(read_lines(root, items, taxes))
    prices, agreements = read_customer_prices(root, items), read_agreements(root, items)
    rules, rates = read_rules(root, items), read_rates(root)
    policy = root.text("discount_policy", default="chain", choices=POLICIES)
    reasons, expect = read_reasons(root), _expectation(root)
    root.close()
    book = None
    if not faults:
        book = root.build(
            lambda: PriceBook(
                lists=lists,
                customer=customer,
                customer_prices=prices,
                agreements=agreements,
                rules=rules,
                policy=policy,
                rates=rates,
            )
        )
    if faults or terms is None or book is None:
        raise CaseFaults(faults)
    return Case(
        terms=terms,
        book=book,
        lines=lines,
        taxes=taxes,
        tax_reasons=reasons,
        expect=expect,
    )


def _expectation(root: Node) -> Mapping[str, object] | None:
    """What the case expects; its note is for people."""
    root.text("note", default="")
    expect = root.get("expect")
    if expect is None or isinstance(expect, Mapping):
        return expect
    root.fault("expect", "must be an object")
    return None
