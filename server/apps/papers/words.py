"""The words of the quote on paper, in each language that it is written in."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.casefile.words import plain
from routecore.dates import Terms
from routecore.payment import PaymentTerms

MONTHS_DE = (
    *("Januar", "Februar", "März", "April", "Mai", "Juni"),
    *("Juli", "August", "September", "Oktober", "November", "Dezember"),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Language:
    """A language: its words by key, its decimal sign, and how it writes a day and payment terms."""

    code: str
    decimal: str
    day: Callable[[date], str]
    terms: Callable[[PaymentTerms], str]
    words: dict[str, str]


def _terms_en(payment: PaymentTerms) -> str:
    parts = [f"{plain(part.percent)} % {_net_en(part.terms)}" for part in payment.instalments] or [
        _net_en(payment.terms)
    ]
    if payment.early:
        early = payment.early
        parts.insert(0, f"{plain(early.percent)} % off within {early.days} days")
    return ", ".join(parts)


def _net_en(terms: Terms) -> str:
    if terms.fixed_day is not None:
        return f"on day {terms.fixed_day} of the next month"
    if terms.end_of_month == "before":
        return f"net {terms.days} days after the end of the month"
    return f"net {terms.days} days" + (", end of month" if terms.end_of_month else "")


def _terms_de(payment: PaymentTerms) -> str:
    parts = [f"{_comma(part.percent)} % {_net_de(part.terms)}" for part in payment.instalments] or [
        _net_de(payment.terms)
    ]
    if payment.early:
        early = payment.early
        parts.insert(0, f"{_comma(early.percent)} % Skonto innerhalb von {early.days} Tagen")
    return ", ".join(parts)


def _net_de(terms: Terms) -> str:
    if terms.fixed_day is not None:
        return f"am {terms.fixed_day}. des Folgemonats"
    if terms.end_of_month == "before":
        return f"{terms.days} Tage netto nach Monatsende"
    return f"{terms.days} Tage netto" + (", Monatsende" if terms.end_of_month else "")


def _comma(percent: Decimal) -> str:
    return (plain(percent) or "").replace(".", ",")


ENGLISH = Language(
    code="en",
    decimal=".",
    day=lambda day: f"{day.day} {day:%B %Y}",
    terms=_terms_en,
    words={
        "quote": "Quote", "order": "Order confirmation", "complete": "Complete by", "draft": "Draft", "revision": "revision", "date": "Date", "valid_until": "Valid until", "payment": "Payment",
        "reference": "Your reference", "contact": "Your contact", "item": "Item", "quantity": "Quantity", "unit": "Unit",
        "price": "Price", "discount": "Disc.", "lines": "Lines", "document_discount": "Discount", "of_gross": "of the gross",
        "net": "Net", "on": "on", "rounding": "Rounding", "payable": "Payable", "page": "Page", "per": "per",
        "alternative": "Alternative", "option": "Option",
        "brackets": "Alternatives and options are in brackets and not part of the sums.",
        "hold": "Prices hold until {until}. Payment {terms}.",
        "accept": "To accept, sign below and send this page to {mail}, or tell {name}.",
        "place": "Place, date", "signature": "Signature for {buyer}", "tax": "Tax",
        "wanted": "Wanted by", "deliver_to": "Deliver to",
        "leaves": "leaves on {day}", "to": "to {place}", "hold_order": "Payment {terms}.",
        "accept_order": "Thank you for your order. For anything about it, ask {name}, {mail}.",
        "opening": "", "closing": "", "holds": "1 {unit} = {quantity}", "typed": "Price agreed",
        "agreement": "Framework agreement {source}", "customer_price": "Your price", "list_price": "List price",
        "line_discount": "Discount",
    },
)  # fmt: skip
GERMAN = Language(
    code="de",
    decimal=",",
    day=lambda day: f"{day.day}. {MONTHS_DE[day.month - 1]} {day.year}",
    terms=_terms_de,
    words={
        "quote": "Angebot", "order": "Auftragsbestätigung", "complete": "Vollständig bis", "draft": "Entwurf", "revision": "Fassung", "date": "Datum", "valid_until": "Gültig bis", "payment": "Zahlung",
        "reference": "Ihr Zeichen", "contact": "Ihr Kontakt", "item": "Artikel", "quantity": "Menge", "unit": "Einheit",
        "price": "Preis", "discount": "Rabatt", "lines": "Positionen", "document_discount": "Nachlass",
        "of_gross": "vom Brutto", "net": "Netto", "on": "auf", "rounding": "Rundung", "payable": "Zu zahlen", "page": "Seite",
        "per": "je", "alternative": "Alternative", "option": "Option",
        "brackets": "Alternativen und Optionen stehen in Klammern und zählen nicht zur Summe.",
        "hold": "Die Preise gelten bis {until}. Zahlung {terms}.",
        "accept": "Zum Annehmen unten unterschreiben und an {mail} senden, oder {name} Bescheid geben.",
        "place": "Ort, Datum", "signature": "Unterschrift für {buyer}", "tax": "Steuer",
        "wanted": "Gewünscht bis", "deliver_to": "Lieferung an",
        "leaves": "geht ab am {day}", "to": "an {place}", "hold_order": "Zahlung {terms}.",
        "accept_order": "Danke für Ihren Auftrag. Fragen dazu beantwortet {name}, {mail}.",
        "opening": "", "closing": "", "holds": "1 {unit} = {quantity}", "typed": "Vereinbarter Preis",
        "agreement": "Rahmenvertrag {source}", "customer_price": "Ihr Preis", "list_price": "Listenpreis",
        "line_discount": "Rabatt",
    },
)  # fmt: skip
LANGUAGES = {language.code: language for language in (ENGLISH, GERMAN)}


def language_of(code: str) -> Language:
    """The language of a code; English where it is not written."""
    return LANGUAGES.get(code, ENGLISH)
