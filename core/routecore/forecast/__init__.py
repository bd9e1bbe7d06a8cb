"""What the open deals promise, weighted by how likely they are."""

from routecore.forecast.weighted import (
    OVERDUE,
    Cell,
    Forecast,
    ForecastDeal,
    forecast_deals,
    weigh,
)

__all__ = ["OVERDUE", "Cell", "Forecast", "ForecastDeal", "forecast_deals", "weigh"]
