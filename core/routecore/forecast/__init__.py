"""What the open deals promise: weighted, as a range with its chances, against what became of earlier ones."""

from routecore.forecast.calibration import (
    Class,
    Foretold,
    Outcome,
    brier,
    calibrate,
    held,
    right_since,
    together,
)
from routecore.forecast.deciding import Swing, deciding
from routecore.forecast.goods import UNSAID, DealGoods, by_goods, shares_of
from routecore.forecast.learnt import (
    Decided,
    Experience,
    Learnt,
    Tally,
    learn,
    learn_counted,
    size_class,
)
from routecore.forecast.moved import CAUSES, Moved, Seen, Snapshot, Step, Window, moved
from routecore.forecast.revenue import Revenue, RevenueMonth, revenue_by_month, usual_lead
from routecore.forecast.spread import Chance, Spread, spread_of
from routecore.forecast.targets import Aimed, aimed_by_month
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
from routecore.forecast.wilson import wilson

__all__ = [
    "CAUSES",
    "OVERDUE",
    "UNSAID",
    "Aimed",
    "Cell",
    "Chance",
    "Class",
    "DealGoods",
    "DealGroup",
    "Decided",
    "Experience",
    "Forecast",
    "ForecastDeal",
    "Foretold",
    "Learnt",
    "Moved",
    "Outcome",
    "Revenue",
    "RevenueMonth",
    "Seen",
    "Snapshot",
    "Spread",
    "Step",
    "Swing",
    "Tally",
    "Window",
    "aimed_by_month",
    "brier",
    "by_goods",
    "calibrate",
    "deciding",
    "forecast_deals",
    "forecast_groups",
    "held",
    "learn",
    "learn_counted",
    "month_of",
    "moved",
    "revenue_by_month",
    "right_since",
    "shares_of",
    "size_class",
    "spread_of",
    "together",
    "usual_lead",
    "weigh",
    "wilson",
]
