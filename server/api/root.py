"""The API: its areas, its one way of signing in, its one form of error."""

from ninja import NinjaAPI

from api import (
    catalogue,
    compare,
    customers,
    deals,
    errors,
    forecast,
    go,
    health,
    kept_cases,
    news,
    orders,
    papers,
    people,
    prices,
    quote_acts,
    quote_files,
    quote_import,
    quote_list,
    quote_quick,
    quotes,
    today,
    views,
)
from api.access import KEEP, SignedIn, guard
from api.parsing import CleanParser

api = NinjaAPI(
    title="Vivid Route",
    version="0.1.0",
    description="Deals, quotes, orders and the forecast of a field sales team.",
    auth=SignedIn(KEEP),
    docs_url=None,
    openapi_url=None,
    parser=CleanParser(),
)
errors.install(api)
AREAS = (
    *(people, today, deals, customers, catalogue),
    *(quotes, quote_list, quote_quick, quote_import, quote_acts, quote_files, compare, papers),
    *(prices, kept_cases, orders, news, forecast, go, health, views),
)
guard(area.router for area in AREAS)
for area in AREAS:
    api.add_router("", area.router)
