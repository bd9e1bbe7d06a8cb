from datetime import date

import pytest

from routecore.dates import Terms
from routecore.errors import InvalidInput


@pytest.mark.parametrize(
    ("terms", "invoiced", "due"),
    [
        (Terms(days=30), date(2026, 1, 31), date(2026, 3, 2)),
        (Terms(days=30), date(2028, 1, 31), date(2028, 3, 1)),
        (Terms(days=30, end_of_month="after"), date(2026, 1, 10), date(2026, 2, 28)),
        (Terms(days=10, end_of_month="before"), date(2026, 1, 10), date(2026, 2, 10)),
        (Terms(days=0), date(2026, 1, 10), date(2026, 1, 10)),
    ],
)
def test_due_dates_from_terms(terms: Terms, invoiced: date, due: date) -> None:
    assert terms.due(invoiced) == due


@pytest.mark.parametrize(("days", "end"), [(-1, ""), (366, ""), (30, "middle")])
def test_terms_that_cannot_be_are_refused(days: int, end: str) -> None:
    with pytest.raises(InvalidInput):
        Terms(days=days, end_of_month=end)
