"""Tax numbers: whether they can be right, and how they are compared."""

from stdnum import get_cc_module
from stdnum.exceptions import ValidationError


def tax_key(number: str) -> str:
    """A number's signs without what people put between them, in capitals.

    >>> tax_key("AT U123 45.678"), tax_key("")
    ('ATU12345678', '')
    """
    return "".join(sign for sign in number.upper() if sign.isascii() and sign.isalnum())


def is_tax_number(number: str) -> bool | None:
    """Whether a number is right by its country's own check digits; None where no rule is known.

    The country is what it begins with, as in VAT numbers. Source: the rules of python-stdnum.

    >>> is_tax_number("ATU 1358 5627"), is_tax_number("ATU13585626"), is_tax_number("QF 101 037")
    (True, False, None)
    """
    key = tax_key(number)
    country = "GR" if key[:2] == "EL" else key[:2]
    module = get_cc_module(country, "vat") if key[:2].isalpha() else None
    if module is None:
        return None
    try:
        module.validate(key)
    except ValidationError:
        return False
    return True
