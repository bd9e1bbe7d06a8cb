"""The back office's papers as UBL 2.1: what they say, in the fields that its news has.

Source: OASIS UBL 2.1, OrderResponse, DespatchAdvice, Invoice and CreditNote. Nothing but the named elements is read;
entities and external references are refused (``defusedxml``). What a paper says goes through the same checks as news
told in fields.
"""

from collections.abc import Callable
from typing import Any
from xml.etree.ElementTree import Element

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring

from apps.told import Unfit, read_string

MOST_SIGNS = 1_000_000
_NAMES = "urn:oasis:names:specification:ubl:schema:xsd:"
_B, _A = f"{{{_NAMES}CommonBasicComponents-2}}", f"{{{_NAMES}CommonAggregateComponents-2}}"
#: Codes of a line's status (UNCL 1229, from memory): taken as it is, changed, added; anything else is not.
TAKEN = ("1", "3", "5")


def in_fields(kind: str, data: dict[str, Any]) -> dict[str, Any]:
    """An event's data in fields, whether it came so or as a paper under ``ubl``. Raises ``Unfit``."""
    if "ubl" not in data:
        return data
    read = PAPERS.get(kind)
    if read is None:
        raise Unfit("unreadable", field="ubl")
    name, reader = read
    return {**reader(_root(read_string(data, "ubl"), name)), **_change(data)}


def _change(data: dict[str, Any]) -> dict[str, Any]:
    return {"change": data["change"]} if "change" in data else {}


def _root(text: str, name: str) -> Element:
    if len(text) > MOST_SIGNS:
        raise Unfit("unreadable", field="ubl")
    try:
        root: Element = fromstring(text, forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError, RecursionError) as error:
        raise Unfit("unreadable", field="ubl") from error
    if root.tag != f"{{{_NAMES}{name}-2}}{name}":
        raise Unfit("unreadable", field=name)
    return root


def _of(node: Element | None, *path: str) -> str | None:
    """The text at a path of aggregates, the last of them basic; None where it is not there."""
    for name in path[:-1]:
        node = None if node is None else node.find(f"{_A}{name}")
    found = None if node is None else node.find(f"{_B}{path[-1]}")
    return None if found is None or found.text is None else found.text.strip()


def _number(text: str | None) -> int | None:
    return int(text) if text and text.isascii() and text.isdigit() and len(text) < 10 else None


def _response(root: Element) -> dict[str, Any]:
    rows = []
    for node in root.findall(f"{_A}OrderLine"):
        item = node.find(f"{_A}LineItem")
        status = _of(item, "LineStatusCode")
        rows.append(
            {
                "line": _number(_of(item, "ID")),
                "taken": status in TAKEN,
                "quantity": _of(item, "Quantity"),
                "net": _of(item, "LineExtensionAmount"),
                "message": _of(item, "Note") or "",
            }
        )
    return {"number": _of(root, "ID"), "message": _of(root, "Note") or "", "lines": rows}


def _despatch(root: Element) -> dict[str, Any]:
    shipped = _of(root.find(f"{_A}Shipment"), "Delivery", "ActualDeliveryDate")
    return {
        "number": _of(root, "ID"),
        "on": shipped or _of(root, "IssueDate"),
        "lines": [
            {
                "line": _number(_of(node, "OrderLineReference", "LineID")),
                "quantity": _of(node, "DeliveredQuantity"),
            }
            for node in root.findall(f"{_A}DespatchLine")
        ],
    }


def _bill(root: Element, line: str, quantity: str) -> dict[str, Any]:
    return {
        "number": _of(root, "ID"),
        "on": _of(root, "IssueDate"),
        "net": _of(root, "LegalMonetaryTotal", "TaxExclusiveAmount"),
        "gross": _of(root, "LegalMonetaryTotal", "PayableAmount"),
        "lines": [
            {
                "line": _number(_of(node, "OrderLineReference", "LineID")),
                "net": _of(node, "LineExtensionAmount"),
                "quantity": _of(node, quantity),
            }
            for node in root.findall(f"{_A}{line}")
        ],
    }


def _invoice(root: Element) -> dict[str, Any]:
    return {
        **_bill(root, "InvoiceLine", "InvoicedQuantity"),
        "due_on": _of(root, "DueDate") or _of(root, "IssueDate"),
    }


def _credit(root: Element) -> dict[str, Any]:
    of = _of(root.find(f"{_A}BillingReference"), "InvoiceDocumentReference", "ID")
    return {**_bill(root, "CreditNoteLine", "CreditedQuantity"), "invoice": of or ""}


#: By kind of news: the paper's name, and what reads it.
PAPERS: dict[str, tuple[str, Callable[[Element], dict[str, Any]]]] = {
    "taken": ("OrderResponse", _response),
    "answered": ("OrderResponse", _response),
    "changed": ("OrderResponse", _response),
    "shipped": ("DespatchAdvice", _despatch),
    "invoiced": ("Invoice", _invoice),
    "credited": ("CreditNote", _credit),
}
