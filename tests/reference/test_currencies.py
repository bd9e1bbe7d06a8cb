"""Minor units against ISO 4217 (the ``iso4217`` package's copy of the list of 2026-01-01)."""

import iso4217
import pytest

from routecore.errors import InvalidInput
from routecore.money import minor_digits


@pytest.mark.parametrize("currency", list(iso4217.Currency), ids=lambda currency: currency.code)
def test_minor_units_are_those_of_iso_4217(currency: iso4217.Currency) -> None:
    if currency.exponent is None:  # metals, funds, testing: nobody quotes in these
        return
    assert minor_digits(currency.code) == currency.exponent


@pytest.mark.parametrize("code", ["ZZZ", "EURO", "eur", "", "DEM", "XAU"])
def test_what_nobody_quotes_in_is_no_currency(code: str) -> None:
    with pytest.raises(InvalidInput, match="unknown_currency"):
        minor_digits(code)
