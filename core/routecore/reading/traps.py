"""Numbers in a sentence that are no quantity of goods: days, times, prices, phones, addresses, numbers of documents.

Source: ISO 8601 for days in figures; the rest is common practice, no source.
"""

from collections.abc import Iterator
from dataclasses import dataclass
import re

DAY, TIME, SPAN, MONEY, PHONE, PLACE, NUMBER_OF, COUNT = (
    "day", "time", "span", "money", "phone", "place", "number_of", "count",
)  # fmt: skip
MONTHS = (
    "january|february|march|april|may|june|july|august|september|october|november|december|jan|feb|mar|apr|jun|jul|aug|sept|sep|"
    "oct|nov|dec|januar|februar|märz|mai|juni|juli|oktober|dezember|okt|dez"
)
_NUMBER = r"\d[\d.,'\u2019]*"
#: A number that people rather write in words.
_FEW = (
    "two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|"
    "zwei|drei|vier|fünf|sechs|sieben|acht|neun|zehn|elf|zwölf"
)
_CURRENCY = r"€|£|\$|eur\b|gbp\b|chf\b|usd\b|euros?\b|pounds?\b|franken\b"
_DOCUMENT = (
    "order|po|purchase order|invoice|quote|quotation|offer|customer|account|article|auftrags?|bestell(?:ung)?s?|rechnungs?|"
    "angebots?|kunden|lieferschein|vat|ust|steuer|ref|reference|referenz"
)
_TRAPS: tuple[tuple[str, str], ...] = (
    (MONEY, rf"(?:{_CURRENCY})\s?{_NUMBER}|{_NUMBER}\s?(?:{_CURRENCY})"),
    (MONEY, r"(?:\b(?:at|do|zu|für|à|of)|@)\s\d+[.,]\d{2}(?=\s*(?:each|per\b|je\b|/|pro\b|a piece|das|ea\b|the))"),
    (PHONE, r"(?:\+|\b00)\d[\d /().-]{6,}\d"),
    (PHONE, r"\b(?:tel|phone|mobile|mobil|telefon|fax|call|ring|rufen)\w*[.:]*\s*(?:us|on|at|uns|unter|me)?\s*\d[\d /().-]{4,}\d"),
    (PHONE, r"\b0\d{2,5}[ /-]\d[\d /-]{3,}\d"),
    (DAY, r"\b\d{4}-\d{2}-\d{2}\b|\b\d{1,2}[./-]\d{1,2}[./-]\d{2,4}\b|\b\d{1,2}\.\s?\d{1,2}\.(?!\d)"),
    (DAY, rf"\b\d{{1,2}}(?:st|nd|rd|th)?\.?\s+(?:of\s+)?(?:{MONTHS})\b\.?(?:,?\s+\d{{4}})?"),
    (DAY, rf"\b(?:{MONTHS})\b\.?\s+(?:\d{{4}}\b|\d{{1,2}}(?:st|nd|rd|th)?\b(?:,?\s+\d{{4}})?)"),
    (DAY, r"\b(?:week|weeks|kw|cw|kalenderwoche|woche)\s*\d{1,2}\b"),
    (DAY, r"\b(?:in|season|saison|vielleicht|maybe|spring|summer|autumn|winter|since|seit|until|bis|ab|from|year|jahr|anno)\s+20\d\d\b"),
    (DAY, r"\b20[2-3]\d(?=\s*(?:[.,;!?)]|$))"),
    (TIME, r"\b\d{1,2}:\d{2}\b(?:\s*(?:h|uhr|am|pm)\b)?|\b\d{1,2}(?:\.\d{2})?\s*(?:am|pm|uhr|o'clock)\b"),
    (TIME, r"\b(?:at|um|after|before|nach|vor|gegen)\s+\d{1,2}\s*(?:h\b|(?=[.,;!?)]|$))"),
    (TIME, r"\b\d{1,2}\s*(?:-|–|to|bis)\s*\d{1,2}\s*(?:h|uhr|am|pm)\b"),
    (SPAN, rf"\b{_NUMBER}\s*(?:weeks?|wochen?|months?|monate?n?|years?|jahre?n?|nights?|nächten?|minutes?|minuten?)\b"),
    (SPAN, rf"\b(?:in|within|binnen|innerhalb(?: von)?|for|after|net|netto|nach|before|vor)\s+{_NUMBER}\s*(?:working |arbeits)?(?:days?|tage?n?)\b"),
    (NUMBER_OF, r"\b(?:article|artikel|art\.|item)\s*\d+\b(?=[:.)]?\s)|\b(?:pos\.?|position)\s*\d{1,2}\b(?=[:.)])|\b(?:line|zeile|position)\s+\d{1,3}(?=\s*(?:from|to|on|is|should|von|auf|,|:))"),
    (PLACE, r"\b\d+(?:st|nd|rd|th)\b(?:\s+(?:floor|row|delivery|time))?"),
    (PLACE, r"\b\d{1,2}\.\s*(?:stock|og|eg|etage|mal|lieferung|reihe|halle)\b"),
    (PLACE, r"\b(?:room|hall|gate|dock|ramp|floor|bay|shed|plot|field|row|halle|tor|rampe|raum|zimmer|feld|parzelle|reihe|schlag|haus|hof|position|pos\.)\s+\d+[a-z]?\b(?!\s*(?:mm|cm|m|kg|l)\b)"),
    (PLACE, r"\b\d{5}\s+(?-i:[A-ZÄÖÜ])\w+|\b(?-i:[A-Z]{1,2}\d{1,2}[A-Z]?\s\d[A-Z]{2})\b"),
    (PLACE, r"\b[\w-]*(?:str\.|straße|strasse|weg|allee|platz|gasse)\s*\d+\s?[a-z]?\b|\b\d+\s+(?:[\w']+\s+){1,2}(?:road|street|lane|avenue|drive|way|rd|close)\b"),
    (NUMBER_OF, rf"\b(?:{_DOCUMENT})[\s-]*(?:no|nr|num|number|nummer|id|#)?\b[\s.:#-]*(?:no|nr)?[\s.:#-]*(?:[a-z]{{1,4}}[-/]?)?\d[\w/-]*\d{{3,}}\b"),
    (NUMBER_OF, r"\b(?:no|nr|number|nummer|#)[.:]?\s*\d{3,}\b|\b(?-i:[A-Z]{1,4})-?\d{2}-\d{3,}\b|\b\d{7,}\b"),
    (COUNT, rf"\b(?:{_NUMBER}|{_FEW})\s+(?:of us|guests?|people|persons?|visitors?|trees|rows|hectares?|acres?|ha|gäste?n?|personen|leuten?|bäumen?|reihen?|copies|times|mal|lines on|sites|orchards|standorten?|anlagen?|fields|plots|feldern?|parzellen|flächen|gärten)\b"),
)  # fmt: skip
_COMPILED = [(why, re.compile(pattern, re.I)) for why, pattern in _TRAPS]


@dataclass(frozen=True, slots=True)
class Trap:
    """A part of a sentence, from ``start`` to before ``end``, and what its number is."""

    why: str
    start: int
    end: int


def traps_of(text: str) -> list[Trap]:
    """What in a sentence is no quantity, in order; where two overlap, the earlier of the rules.

    >>> text = "On 12 March at 9:30 in room 14: 20 nets at 8.10 each, call 0800 123 456"
    >>> [text[trap.start:trap.end] for trap in traps_of(text)]
    ['12 March', '9:30', 'room 14', 'at 8.10', 'call 0800 123 456']
    """
    found: list[Trap] = []
    for trap in _all(text):
        if all(trap.end <= other.start or trap.start >= other.end for other in found):
            found.append(trap)
    return sorted(found, key=lambda trap: trap.start)


def _all(text: str) -> Iterator[Trap]:
    for why, pattern in _COMPILED:
        for match in pattern.finditer(text):
            yield Trap(why, match.start(), match.end())
