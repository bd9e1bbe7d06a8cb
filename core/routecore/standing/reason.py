"""Why somebody stands as they do."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal


@dataclass(frozen=True, slots=True, kw_only=True)
class Reason:
    """One reason: its code, the verdict it leads to, and the figure behind it. All that apply are
    listed, also the lesser beside the greater.

    Halt: ``held``, ``overdue_beyond_tolerance``, ``over_limit``. Caution: ``overdue``,
    ``near_limit``, ``no_limit``, ``stale``. ``of`` is empty for one's own, ``group`` where the group's
    limit is meant, ``parent`` where the parent's halt is.
    """

    code: str
    verdict: str
    amount: Decimal | None = None
    days: int | None = None
    of: Literal["", "group", "parent"] = ""
