"""The core stays in pieces that can be read: no function over 40 lines, no file over 300."""

import ast
from pathlib import Path

import routecore

FILES = sorted(Path(routecore.__file__).parent.rglob("*.py"))


def test_no_function_is_longer_than_forty_lines() -> None:
    long = []
    for file in FILES:
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
    exempt = {"exact.py", "swing.py", "gross.py", "tax.py"}
    found = []
    for file in FILES:
        if file.name in exempt:
            continue
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Div):
                found.append((file.name, node.lineno))
    assert found == []
