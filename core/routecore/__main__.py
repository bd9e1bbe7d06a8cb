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
from typing import TextIO

from routecore.casefile import CaseFaults, Fault, differences, load_case, price_case
from routecore.casefile.faults import words_for
from routecore.errors import CoreError

FAULTY = 2


def main(arguments: list[str] | None = None) -> int:
    """Run a command; the exit code."""
    parser = argparse.ArgumentParser(prog="routecore", description="Price cases.")
    commands = parser.add_subparsers(dest="command", required=True)
    price = commands.add_parser("price", help="print the result of a case")
    price.add_argument("case", help="a file, or - for standard input")
    check = commands.add_parser("check", help="compare cases with what they expect")
    check.add_argument("cases", nargs="+")
    given = parser.parse_args(arguments)
    if given.command == "check":
        return max([_check(name) for name in given.cases])
    try:
        return _price(given.case)
    except CaseFaults as faults:
        _say(str(faults), sys.stderr)
        return FAULTY


def _say(text: str, stream: TextIO) -> None:
    """Print, whatever the text holds: what cannot be written is escaped."""
    print(text.encode("utf-8", "backslashreplace").decode("utf-8"), file=stream)


def _load(name: str) -> object:
    try:
        text = sys.stdin.read() if name == "-" else Path(name).read_text(encoding="utf-8")
    except (OSError, ValueError) as error:
        raise CaseFaults([Fault(name, f"cannot be read: {error}")]) from error
    return load_case(text)


def _priced(data: object, where: str = "") -> dict[str, object]:
    try:
        return price_case(data)
    except CaseFaults as error:
        raise CaseFaults([Fault(where + f.path, f.message) for f in error.faults]) from error
    except CoreError as error:
        raise CaseFaults([Fault(where + error.path, words_for(error))]) from error


def _price(name: str) -> int:
    data = _load(name)
    if not isinstance(data, list):
        print(json.dumps(_priced(data), indent=2, ensure_ascii=False))
        return 0
    # Priced before anything is printed: a fault leaves no half list behind.
    results: list[str] = []
    faults: list[Fault] = []
    for n, case in _counted(data):
        try:
            results.append(json.dumps(_priced(case, f"[{n}]."), indent=1, ensure_ascii=False))
        except CaseFaults as error:
            faults += error.faults
    if faults:
        raise CaseFaults(faults)
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
    """Compare one file; its faults are printed with its name, and do not stop the next."""
    try:
        data = _load(name)
    except CaseFaults as error:
        return _faulty(name, error)
    cases = data if isinstance(data, list) else [data]
    worst = 0
    for n, case in _counted(cases):
        where = f"[{n}]." if isinstance(data, list) else ""
        try:
            found = _priced(case, where)
        except CaseFaults as error:
            worst = max(worst, _faulty(name, error))
            continue
        expected = case.get("expect") if isinstance(case, dict) else None
        for difference in differences(expected or {}, found):
            _say(f"{name}: {where}{difference}", sys.stdout)
            worst = max(worst, 1)
    return worst


def _faulty(name: str, error: CaseFaults) -> int:
    for fault in error.faults:
        # A file that cannot be read is its own path.
        _say(str(fault) if fault.path == name else f"{name}: {fault}", sys.stderr)
    return FAULTY


if __name__ == "__main__":
    sys.exit(main())
