"""What of a priced quote a person may see: what things cost, and whatever a cost follows from.

Everything that leaves the server with a quote's figures goes through here. A person without the right
sees that the house's floor is crossed, and where; never by how much, nor where the floor lies.
"""

from collections.abc import Iterable, Mapping
from typing import Any

from apps.people.models import User

COSTS = ("cost", "margin", "margin_percent")
#: Excesses that are judged by a cost; together they are one for those who may not see it.
OF_A_COST = ("margin_floor", "free_line", "unknown_cost")
UNDER_FLOOR = "under_floor"


def priced_for(who: User, priced: Mapping[str, Any]) -> dict[str, Any]:
    """The core's answer in its stored form, as this person may see it."""
    if who.sees_margin:
        return dict(priced)
    lines = [_without(line) for line in priced["lines"]]
    hidden = {**priced, "lines": lines, "totals": _without(priced["totals"])}
    if "excesses" in priced:
        hidden["excesses"] = excesses_for(who, priced["excesses"])
    return hidden


def excesses_for(
    who: User, excesses: Iterable[Mapping[str, str | None]]
) -> list[dict[str, str | None]]:
    """Exceeded limits as this person may see them."""
    if who.sees_margin:
        return [dict(row) for row in excesses]
    return [
        {"code": UNDER_FLOOR, "line": row["line"], "found": None, "limit": None}
        if row["code"] in OF_A_COST
        else dict(row)
        for row in excesses
    ]


def _without(part: Mapping[str, Any]) -> dict[str, Any]:
    return {key: value for key, value in part.items() if key not in COSTS}
