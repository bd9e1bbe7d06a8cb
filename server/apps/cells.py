"""Text in cells that no spreadsheet runs."""

#: A cell that begins so would be run as a formula by a spreadsheet.
DANGEROUS = ("=", "+", "-", "@", "\t", "\r", "\N{FULLWIDTH EQUALS SIGN}")


def defused(text: str) -> str:
    """Text that no spreadsheet runs.

    >>> defused("=1+1"), defused("Wire")
    ("'=1+1", 'Wire')
    """
    return f"'{text}" if text.startswith(DANGEROUS) else text
