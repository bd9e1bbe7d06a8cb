"""What keeps a quote from being issued, with the facts that its words need."""

from collections.abc import Mapping
from typing import Any

FACTS = ("above", "below", "wanted", "reached", "category")


def facts_of(problem: Mapping[str, Any]) -> dict[str, str]:
    """The facts of a problem of an answer; ``what`` chooses among the sentences of its code.

    >>> facts_of({"code": "not_a_multiple", "line": "1", "below": None, "above": "20"})
    {'what': 'problem_one', 'above': '20', 'near': '20'}
    """
    facts = {name: str(problem[name]) for name in FACTS if problem.get(name)}
    near = [facts[name] for name in ("below", "above") if name in facts]
    what = "problem"
    if problem["code"] == "below_minimum" and "above" not in facts:
        what = "problem_none"
    elif problem["code"] == "not_a_multiple" and len(near) < 2:
        what = "problem_one" if near else "problem_none"
        facts |= {"near": near[0]} if near else {}
    return {"what": what, **facts}
