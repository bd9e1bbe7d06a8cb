"""What the open deals promise, weighted by how likely they are."""

from routecore.forecast.weighted import (
    OVERDUE,
    Cell,
    DealGroup,
    Forecast,
    ForecastDeal,
    forecast_deals,
    forecast_groups,
    month_of,
    weigh,
)

__all__ = [
    "OVERDUE",
    "Cell",
    "DealGroup",
    "Forecast",
    "ForecastDeal",
    "forecast_deals",
    "forecast_groups",
    "month_of",
    "weigh",
]
