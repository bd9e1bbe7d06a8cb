"""The house stays in pieces that can be read: no function over 40 lines, no file of the core over 300."""

import ast
from pathlib import Path

import routecore

CORE = Path(routecore.__file__).parent
FILES = sorted(CORE.rglob("*.py"))
ROOT = CORE.parents[1]
ALL = [
    file
    for part in ("core", "server", "standins", "ops")
    for file in sorted((ROOT / part).rglob("*.py"))
    if "migrations" not in file.parts
]


def test_no_function_is_longer_than_forty_lines() -> None:
    assert len(ALL) > 200
    long = []
    for file in ALL:
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if isinstance(node, ast.FunctionDef) and node.end_lineno is not None:
                length = node.end_lineno - node.lineno + 1
                if length > 40:
                    long.append((file.name, node.name, length))
    assert long == []


def test_no_file_is_longer_than_three_hundred_lines() -> None:
    sizes = {file.name: len(file.read_text(encoding="utf-8").splitlines()) for file in FILES}
    assert {name: size for name, size in sizes.items() if size > 300} == {}


def test_nothing_in_the_core_divides_on_the_way() -> None:
    """A quotient of decimals loses digits: only ``exact`` divides, and rounds at once. Fractions and
    whole numbers may."""
    exempt = {"exact.py", "swing.py", "gross.py", "tax.py", "laws.py", "spread.py", "wilson.py"}
    found = []
    for file in FILES:
        if file.name in exempt:
            continue
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Div):
                found.append((file.name, node.lineno))
    assert found == []
