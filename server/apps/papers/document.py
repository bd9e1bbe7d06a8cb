"""A document as plain data: what a paper, a sheet or an XML file is made from, whatever area it comes from."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import Any

from apps.catalogue.models import Item
from routecore.payment import PaymentTerms


@dataclass(frozen=True, slots=True, kw_only=True)
class DocumentLine:
    """A line as it was typed; what it came to stands in the document's ``priced``, under ``key``.

    ``tax_category`` is the one that counts; a heading or a note has words alone. ``item`` comes with its
    units. ``when`` is what an order says of the line: its day, its place.
    """

    key: str
    position: int
    kind: str
    text: str
    item: Item | None = None
    quantity: Decimal | None = None
    unit: str = ""
    alternative_to: str = ""
    discount_percent: Decimal | None = None
    discount_amount: Decimal | None = None
    tax_category: str = ""
    when: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Document:
    """What goes to a buyer: a ``quote``, or the confirmation of an ``order``.

    ``priced`` is the core's answer in its stored form. ``valid_until`` of an order is when it is complete;
    where ``undated`` nobody knows yet.
    ``sources`` are the names of price lists, agreements and rules that the answer names by code.
    """

    number: str
    letter: str
    draft: bool
    language: str
    on: date
    valid_until: date
    currency: str
    payment: PaymentTerms
    buyer: Mapping[str, Any]
    rep_name: str
    rep_email: str
    priced: Mapping[str, Any]
    lines: Sequence[DocumentLine]
    reference: str = ""
    message: str = ""
    deliver_to: Mapping[str, Any] | None = None
    requested_on: date | None = None
    discount_percent: Decimal | None = None
    discount_on: str = "net"
    sources: Mapping[str, str] = field(default_factory=dict)
    kind: str = "quote"
    undated: bool = False

    @property
    def answers(self) -> dict[str, Mapping[str, Any]]:
        """What each line came to, by its key."""
        return {line["id"]: line for line in self.priced["lines"]}


def line_numbers(kinds: list[str]) -> list[str]:
    """Goods are numbered; what stands instead of, or beside, a line takes its number and a letter.

    >>> line_numbers(["heading", "normal", "alternative", "optional", "note", "normal"])
    ['', '1', '1a', '1b', '', '2']
    """
    found: list[str] = []
    number, letter = 0, 0
    for kind in kinds:
        if kind in ("heading", "note"):
            found.append("")
        elif kind == "normal" or not number:
            number, letter = number + 1, 0
            found.append(str(number))
        else:
            found.append(f"{number}{chr(97 + letter % 26)}")
            letter += 1
    return found
