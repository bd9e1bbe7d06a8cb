"""The mails of ``tests/core/mails`` with what must come out of each, and how the reader does on them.

``python -m ops.corpus`` prints, for each part, how many of the sure lines are right (precision) and how many of the
wanted lines are found (recall); ``--wrong`` names the mails where it errs.
"""

from argparse import ArgumentParser
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal
import json

from config.paths import ROOT
from routecore.reading.goods import Good, Goods
from routecore.reading.mails import MailLine, MailReading, read_mail

FOLDER = ROOT / "tests" / "core" / "mails"
PARTS = ("first", "second", "third", "fourth")


@dataclass(frozen=True, slots=True)
class Wanted:
    """A line that a mail asks for. ``open`` where a person must choose or confirm; a dash stands for anything."""

    quantity: str
    unit: str
    codes: tuple[str, ...]
    open: bool


@dataclass(frozen=True, slots=True)
class Sample:
    """A mail of the corpus."""

    name: str
    text: str
    wanted: tuple[Wanted, ...]


@dataclass(frozen=True, slots=True)
class Result:
    """How the reader did on a mail."""

    sample: Sample
    reading: MailReading
    sure: int
    wrong: tuple[str, ...]
    missed: tuple[Wanted, ...]


def goods() -> Goods:
    """The catalogue that the mails speak of."""
    rows = json.loads((FOLDER / "items.json").read_text())
    return Goods(
        Good(
            key=n,
            code=row["code"],
            called=tuple(row["called"]),
            base=row["base"],
            sold_in=row["sold_in"],
            units={unit: Decimal(factor) for unit, factor in row["units"].items()},
        )
        for n, row in enumerate(rows)
    )


def samples(part: str) -> Iterator[Sample]:
    """The mails of a part."""
    for mail in ("\n" + (FOLDER / f"{part}.txt").read_text()).split("\n# ")[1:]:
        head, _, rest = mail.partition("\n")
        lines = rest.split("\n")
        marks = [n for n, line in enumerate(lines) if line[:2] in ("= ", "~ ")]
        first = marks[0] if marks else len(lines)
        wanted = []
        for line in lines[first:]:
            if line.strip():
                sign, quantity, unit, codes = line.split()
                wanted.append(Wanted(quantity, unit, tuple(codes.split("|")), sign == "~"))
        yield Sample(head, "\n".join(lines[:first]).strip("\n"), tuple(wanted))


def _is(line: MailLine, wanted: Wanted, known: Goods) -> bool:
    if wanted.quantity != "-" and line.quantity != Decimal(wanted.quantity):
        return False
    if wanted.unit not in ("-", line.unit):
        return False
    codes = [known.known[meant.item].good.code for meant in line.items]
    return any(code in wanted.codes for code in (codes if wanted.open else codes[:1]))


def judge(sample: Sample, known: Goods) -> Result:
    """Read a mail and hold it against what must come out."""
    reading = read_mail(sample.text, known)
    left = list(reading.lines)
    missed, wrong = [], []
    for wanted in sorted(sample.wanted, key=lambda each: each.open):
        hit = next((line for line in left if _is(line, wanted, known)), None)
        if hit is None:
            missed.append(wanted)
            continue
        left.remove(hit)
        if wanted.open and hit.sure:
            wrong.append(_told(hit, known))
    wrong += [_told(line, known) for line in left if line.sure]
    sure = sum(line.sure for line in reading.lines)
    return Result(sample, reading, sure, tuple(wrong), tuple(missed))


def _told(line: MailLine, known: Goods) -> str:
    codes = "|".join(known.known[meant.item].good.code for meant in line.items)
    return f"{line.quantity} {line.unit} {codes} {','.join(line.doubts) or 'sure'} ({line.words})"


def scores(results: Sequence[Result]) -> dict[str, float]:
    """Precision of the sure lines and recall of the wanted ones, with what they are shares of."""
    sure = sum(each.sure for each in results)
    wanted = sum(len(each.sample.wanted) for each in results)
    wrong = sum(len(each.wrong) for each in results)
    missed = sum(len(each.missed) for each in results)
    return {
        "mails": len(results),
        "sure": sure,
        "precision": (sure - wrong) / sure if sure else 1.0,
        "wanted": wanted,
        "recall": (wanted - missed) / wanted if wanted else 1.0,
    }


def report(part: str, *, wrong: bool = False) -> dict[str, float]:
    """Print how the reader does on a part."""
    known = goods()
    results = [judge(sample, known) for sample in samples(part)]
    found = scores(results)
    print(
        f"{part} part: {found['mails']:.0f} mails, {100 * found['precision']:.1f} % of {found['sure']:.0f} sure lines right, "
        f"{100 * found['recall']:.1f} % of {found['wanted']:.0f} wanted lines found"
    )
    for each in results if wrong else ():
        if each.wrong or each.missed:
            print(f"  {each.sample.name}")
            doubts = Counter(_told(line, known) for line in each.reading.lines)
            for text in doubts:
                print(f"      read   {text}")
            for text in each.wrong:
                print(f"      WRONG  {text}")
            for line in each.missed:
                print(f"      missed {line.quantity} {line.unit} {'|'.join(line.codes)}")
    return found


def main() -> None:
    """Print the scores of every part."""
    parser = ArgumentParser(description=__doc__)
    parser.add_argument("--wrong", action="store_true")
    parser.add_argument("--part", choices=PARTS)
    given = parser.parse_args()
    for part in [given.part] if given.part else PARTS:
        if (FOLDER / f"{part}.txt").exists():
            report(part, wrong=given.wrong)


if __name__ == "__main__":
    main()
