"""The API: its areas, its one way of signing in, its one form of error."""

from ninja import NinjaAPI

from api import (
    agreements,
    arrived,
    billing,
    calendars,
    catalogue,
    changes,
    deal_teams,
    deals,
    diary,
    errors,
    go,
    handovers,
    health,
    interests,
    items,
    kept_files,
    leads,
    ledger,
    links,
    mail,
    mail_draft,
    mail_list,
    mailboxes,
    news,
    papers,
    people,
    pipeline,
    promises,
    reading,
    regulars,
    standing_orders,
    strangers,
    sync,
    timetable,
    today,
    views,
    visits,
    whole_route,
)
from api.access import KEEP, SignedIn, guard
from api.customers import buys, documents, sheet, upkeep
from api.customers import files as customer_files
from api.customers import lists as customers
from api.customers import timeline as customer_timeline
from api.forecast import cuts, deciding, moved, outlook, past, revenue, targets, weighted
from api.forecast import words as forecast_words
from api.parsing import CleanParser
from api.prices import cases, checks, records
from api.quotes import acts, compare, desk, files, imports, lists, quick

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
    *(
        people,
        calendars,
        today,
        leads,
        visits,
        deal_teams,
        deals,
        diary,
        timetable,
        interests,
        pipeline,
        catalogue,
        ledger,
        billing,
    ),
    *(customers, documents, customer_timeline, buys, sheet, upkeep, customer_files),
    *(weighted, cuts, outlook, deciding, targets, moved, past, revenue, forecast_words),
    *(desk, lists, quick, imports, acts, files, compare, papers),
    *(
        checks,
        records,
        cases,
        regulars,
        agreements,
        standing_orders,
        kept_files,
        promises,
        reading,
        items,
        changes,
        handovers,
        links,
        mail,
        mail_draft,
        mail_list,
        arrived,
        strangers,
        mailboxes,
        news,
        sync,
        go,
        health,
        views,
        whole_route,
    ),
)
guard(area.router for area in AREAS)
for area in AREAS:
    api.add_router("", area.router)
