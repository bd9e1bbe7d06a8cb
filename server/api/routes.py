"""The Route as the browser draws it."""

from datetime import date

from api.schemas import Schema
from apps.route.queries import Stop


class Branch(Schema):
    """An older revision beside the main line."""

    name: str
    note: str
    on: date | None
    amount: str | None
    currency: str
    to: str


class RouteStop(Schema):
    """One stop."""

    kind: str
    name: str
    note: str
    state: str
    on: date | None
    amount: str | None
    currency: str
    to: str
    open: bool
    branches: list[Branch]


def route_out(stops: list[Stop]) -> list[RouteStop]:
    """Stops as the API gives them."""
    return [
        RouteStop(
            **{name: getattr(stop, name) for name in RouteStop.model_fields if name != "branches"},
            branches=[
                Branch(**{name: getattr(b, name) for name in Branch.model_fields})
                for b in stop.branches
            ],
        )
        for stop in stops
    ]
