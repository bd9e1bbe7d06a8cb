"""``python -m routecore price CASE.json`` and ``python -m routecore check CASE.json …``.

``price`` prints the result as JSON (a list for a list of cases; ``-`` reads standard input).
``check`` compares with each case's ``expect`` and exits with 1 on any difference. A malformed
case gives one line per fault, with its path, and exits with 2. A long list says on standard error
how far it is.
"""

import argparse
from collections.abc import Iterator
import json
from pathlib import Path
import sys

from routecore.casefile import CaseFaults, Fault, differences, price_case
from routecore.errors import CoreError


def main(arguments: list[str] | None = None) -> int:
    """Run a command; the exit code."""
    parser = argparse.ArgumentParser(prog="routecore", description="Price cases.")
    commands = parser.add_subparsers(dest="command", required=True)
    price = commands.add_parser("price", help="print the result of a case")
    price.add_argument("case", help="a file, or - for standard input")
    check = commands.add_parser("check", help="compare cases with what they expect")
    check.add_argument("cases", nargs="+")
    given = parser.parse_args(arguments)
    try:
        if given.command == "price":
            return _price(given.case)
        return max(_check(name) for name in given.cases)
    except CaseFaults as faults:
        print(faults, file=sys.stderr)
        return 2


def _load(name: str) -> object:
    try:
        text = sys.stdin.read() if name == "-" else Path(name).read_text(encoding="utf-8")
        return json.loads(text)
    except (OSError, UnicodeDecodeError) as error:
        raise CaseFaults([Fault(name, f"cannot be read: {error}")]) from error
    except (json.JSONDecodeError, RecursionError) as error:
        raise CaseFaults([Fault(name, f"is not JSON: {error}")]) from error


def _priced(data: object, where: str = "") -> dict[str, object]:
    try:
        return price_case(data)
    except CaseFaults as error:
        raise CaseFaults([Fault(where + f.path, f.message) for f in error.faults]) from error
    except CoreError as error:
        raise CaseFaults([Fault(where + error.path, error.code)]) from error


def _price(name: str) -> int:
    data = _load(name)
    if not isinstance(data, list):
        print(json.dumps(_priced(data), indent=2, ensure_ascii=False))
        return 0
    # Priced before anything is printed: a fault leaves no half list behind.
    results = [
        json.dumps(_priced(case, f"[{n}]."), indent=1, ensure_ascii=False)
        for n, case in _counted(data)
    ]
    print("[\n" + ",\n".join(results) + "\n]")
    return 0


STEP = 500


def _counted(cases: list[object]) -> Iterator[tuple[int, object]]:
    """The cases with their numbers; long lists say how far they are."""
    for n, case in enumerate(cases):
        yield n, case
        if (n + 1) % STEP == 0:
            print(f"{n + 1:,} of {len(cases):,} cases", file=sys.stderr, flush=True)


def _check(name: str) -> int:
    data = _load(name)
    cases = data if isinstance(data, list) else [data]
    worst = 0
    for n, case in _counted(cases):
        where = f"[{n}]." if isinstance(data, list) else ""
        found = _priced(case, where)
        expected = case.get("expect") if isinstance(case, dict) else None
        for difference in differences(expected or {}, found):
            print(f"{name}: {where}{difference}")
            worst = 1
    return worst


if __name__ == "__main__":
    sys.exit(main())
