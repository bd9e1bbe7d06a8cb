"""Text from outside: without what cannot be seen, cannot be stored, or turns other text around.

Source: Unicode 16, general categories Cc, Cs, Co and Cn, and the bidirectional controls of UAX #9.
"""

from typing import Any
import unicodedata

#: What a text of several lines keeps.
KEPT = "\n\t"
#: The categories that no text needs: control, surrogate, private use, unassigned.
UNSEEN = {"Cc", "Cs", "Co", "Cn"}
#: Marks that turn the direction of what follows, and joiners that nobody sees.
TURNING = set("\u200b\u200e\u200f\u2060\ufeff\u061c") | {
    chr(code) for code in (*range(0x202A, 0x202F), *range(0x2066, 0x206A))
}


def clean(text: str) -> str:
    """The text in its composed form, without unseen signs; line breaks are ``\\\\n``.

    >>> clean("a\\u202eb\\x00c\\ud800")
    'abc'
    >>> clean("one\\r\\ntwo")
    'one\\ntwo'
    """
    if text.isascii() and text.isprintable():
        return text
    whole = text.replace("\r\n", "\n").replace("\r", "\n")
    kept = "".join(
        sign
        for sign in whole
        if sign in KEPT or (unicodedata.category(sign) not in UNSEEN and sign not in TURNING)
    )
    return unicodedata.normalize("NFC", kept)


def cleaned(value: Any) -> Any:
    """Every text within a value as JSON has it, cleaned; keys too."""
    if isinstance(value, str):
        return clean(value)
    if isinstance(value, list):
        return [cleaned(part) for part in value]
    if isinstance(value, dict):
        return {clean(key): cleaned(part) for key, part in value.items()}
    return value
