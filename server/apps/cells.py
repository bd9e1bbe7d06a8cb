"""Text in cells that no spreadsheet runs."""

#: A cell that begins so would be run as a formula by a spreadsheet.
DANGEROUS = tuple(
    "=+-@\t\r\N{FULLWIDTH EQUALS SIGN}\N{FULLWIDTH PLUS SIGN}"
    "\N{FULLWIDTH HYPHEN-MINUS}\N{FULLWIDTH COMMERCIAL AT}\N{MINUS SIGN}"
)


def defused(text: str) -> str:
    """Text that no spreadsheet runs.

    >>> defused("=1+1"), defused("Wire")
    ("'=1+1", 'Wire')
    """
    return f"'{text}" if text.lstrip(" \n").startswith(DANGEROUS) else text
