"""The words of the buyer's page that are not on paper, in each language."""

WORDS: dict[str, dict[str, str]] = {
    "en": {
        "gone": "This address does not hold (any more). Ask whoever sent it to you for another one.",
        "wait": "Too many tries from here. Wait a quarter of an hour, then try again.",
        "offered": "offered", "take": "Take it as well", "instead": "Take it instead", "as_offered": "As offered",
        "total": "See the new total", "yes": "Accept for {payable} {currency}", "name": "Your name", "number": "Your order number (if there is one)",
        "binding": "By this you order the lines above at this total. We confirm it.",
        "ask": "Ask for a change", "what": "What should be otherwise?", "send": "Send",
        "accepted": "Accepted by {name} on {day}: {payable} {currency}. We will confirm it.",
        "asked": "Asked by {name} on {day}: {words}", "replied": "Our answer: {reply}", "ordered": "Your order {number}", "left": "Goods left on {day}",
        "unread": "“{text}” cannot be read as a quantity.", "moved": "Something has changed meanwhile. Look at it again.",
        "name_missing": "Please give your name.", "words_missing": "Please say what should be otherwise.",
        "not_possible": "This cannot be ordered like this. Look at the quantities, or ask for a change.",
        "said_already": "It was accepted already.", "print": "As PDF", "files": "With it",
        "state_ready": "is being prepared", "state_waiting": "is being prepared", "state_under_way": "is being prepared",
        "state_refused": "is being prepared", "state_held": "is being prepared", "state_taken": "is being worked on",
        "state_part_shipped": "has left in part", "state_shipped": "has left", "state_part_invoiced": "is being billed",
        "state_invoiced": "was billed", "state_part_paid": "is paid in part", "state_paid": "is paid", "state_cancelled": "was cancelled",
    },
    "de": {
        "gone": "Diese Adresse gilt nicht (mehr). Bitten Sie den Absender um eine neue.",
        "wait": "Zu viele Versuche von hier. Warten Sie eine Viertelstunde.",
        "offered": "angeboten", "take": "Zusätzlich nehmen", "instead": "Stattdessen nehmen", "as_offered": "Wie angeboten",
        "total": "Neue Summe ansehen", "yes": "Für {payable} {currency} annehmen", "name": "Ihr Name", "number": "Ihre Bestellnummer (falls vorhanden)",
        "binding": "Damit bestellen Sie die Positionen oben zu dieser Summe. Wir bestätigen sie.",
        "ask": "Um eine Änderung bitten", "what": "Was soll anders sein?", "send": "Senden",
        "accepted": "Angenommen von {name} am {day}: {payable} {currency}. Wir bestätigen es.",
        "asked": "Gefragt von {name} am {day}: {words}", "replied": "Unsere Antwort: {reply}", "ordered": "Ihr Auftrag {number}", "left": "Ware abgegangen am {day}",
        "unread": "„{text}“ kann nicht als Menge gelesen werden.", "moved": "Inzwischen hat sich etwas geändert. Sehen Sie es noch einmal an.",
        "name_missing": "Bitte geben Sie Ihren Namen an.", "words_missing": "Bitte sagen Sie, was anders sein soll.",
        "not_possible": "So kann es nicht bestellt werden. Prüfen Sie die Mengen, oder bitten Sie um eine Änderung.",
        "said_already": "Es wurde bereits angenommen.", "print": "Als PDF", "files": "Dazu",
        "state_ready": "wird vorbereitet", "state_waiting": "wird vorbereitet", "state_under_way": "wird vorbereitet",
        "state_refused": "wird vorbereitet", "state_held": "wird vorbereitet", "state_taken": "ist in Arbeit",
        "state_part_shipped": "ist zum Teil abgegangen", "state_shipped": "ist abgegangen", "state_part_invoiced": "wird berechnet",
        "state_invoiced": "wurde berechnet", "state_part_paid": "ist zum Teil bezahlt", "state_paid": "ist bezahlt", "state_cancelled": "wurde storniert",
    },
}  # fmt: skip


def words_of(language: str) -> dict[str, str]:
    """The words of a language; English where it is not written."""
    return WORDS.get(language, WORDS["en"])
