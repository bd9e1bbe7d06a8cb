"""The rest of the demo's catalogue: ranges of like goods that differ in size, with their own prices.

Each range names its sizes with price and cost; the rest is the same for all of them.
"""

from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True, slots=True, kw_only=True)
class Range:
    """Goods of one kind: ``sizes`` are (code's end, words, price, cost)."""

    code: str
    name: str
    group: str
    unit: str
    sizes: tuple[tuple[str, str, str, str], ...]
    others: dict[str, str] = field(default_factory=dict)
    breaks: tuple[tuple[str, str], ...] = ()
    weight: str | None = None
    pack: str | None = None


RANGES = (
    Range(code="PST", name="Larch post, round", group="posts", unit="H87", others={"PF": "80"}, weight="7", breaks=(("80", "0.92"),), sizes=(
        ("175", "175 cm", "6.40", "4.30"), ("225", "225 cm", "8.70", "5.90"), ("275", "275 cm", "11.90", "8.10"),
        ("350", "350 cm", "17.20", "11.80"))),
    Range(code="STK", name="Bamboo stake", group="posts", unit="H87", others={"BX": "250"}, weight="0.1", pack="250", breaks=(("1000", "0.9"),), sizes=(
        ("090", "90 cm", "0.18", "0.10"), ("120", "120 cm", "0.24", "0.14"), ("150", "150 cm", "0.33", "0.19"), ("180", "180 cm", "0.42", "0.25"))),
    Range(code="WRH", name="High-tensile wire", group="wire", unit="MTR", others={"RL": "250"}, weight="0.03", pack="250", breaks=(("5000", "0.93"),), sizes=(
        ("160", "1.6 mm", "0.31", "0.19"), ("200", "2.0 mm", "0.44", "0.28"), ("250", "2.5 mm", "0.62", "0.41"))),
    Range(code="CLP", name="Wire clip", group="wire", unit="H87", others={"BG": "100"}, weight="0.01", pack="100", sizes=(
        ("S", "small", "0.09", "0.04"), ("M", "medium", "0.12", "0.06"), ("L", "large", "0.16", "0.08"))),
    Range(code="PIP", name="Supply pipe", group="drip", unit="MTR", others={"RL": "100"}, weight="0.3", breaks=(("500", "0.94"),), sizes=(
        ("25", "25 mm", "1.05", "0.68"), ("32", "32 mm", "1.48", "0.97"), ("40", "40 mm", "2.15", "1.42"),
        ("50", "50 mm", "3.05", "2.05"), ("63", "63 mm", "4.60", "3.15"))),
    Range(code="ELB", name="Elbow 90°", group="drip", unit="H87", weight="0.1", breaks=(("50", "0.9"),), sizes=(
        ("25", "25 mm", "1.90", "0.95"), ("32", "32 mm", "2.40", "1.25"), ("40", "40 mm", "3.60", "1.90"), ("50", "50 mm", "5.20", "2.90"))),
    Range(code="TEE", name="Tee piece", group="drip", unit="H87", weight="0.1", breaks=(("50", "0.9"),), sizes=(
        ("25", "25 mm", "2.30", "1.20"), ("32", "32 mm", "2.95", "1.55"), ("40", "40 mm", "4.40", "2.35"))),
    Range(code="DRP", name="Single dripper", group="drip", unit="H87", others={"BG": "100"}, weight="0.01", pack="100", sizes=(
        ("2", "2 l/h", "0.19", "0.09"), ("4", "4 l/h", "0.19", "0.09"), ("8", "8 l/h", "0.22", "0.11"))),
    Range(code="SHD", name="Shade net, 4 × 50 m", group="netting", unit="RL", weight="8", breaks=(("10", "0.95"),), sizes=(
        ("30", "30 %", "118.00", "79.00"), ("50", "50 %", "134.00", "90.00"), ("70", "70 %", "149.00", "101.00"))),
    Range(code="RNC", name="Rain cover", group="netting", unit="RL", weight="22", breaks=(("6", "0.95"),), sizes=(
        ("200", "2.0 × 100 m", "265.00", "186.00"), ("250", "2.5 × 100 m", "318.00", "224.00"), ("300", "3.0 × 100 m", "372.00", "265.00"))),
    Range(code="WND", name="Windbreak, 100 m", group="netting", unit="RL", weight="14", sizes=(
        ("100", "1 m high", "88.00", "58.00"), ("200", "2 m high", "162.00", "109.00"))),
    Range(code="HTR", name="Frost heater", group="frost", unit="H87", weight="9", breaks=(("24", "0.95"),), sizes=(
        ("06", "6 kW", "128.00", "86.00"), ("12", "12 kW", "196.00", "134.00"))),
    Range(code="THM", name="Thermometer", group="frost", unit="H87", weight="0.2", sizes=(
        ("MIN", "minimum and maximum", "18.40", "9.80"), ("RAD", "wet bulb, radio", "64.00", "39.00"))),
    Range(code="SHE", name="Shears", group="tools", unit="H87", others={"BX": "12"}, weight="0.4", breaks=(("12", "0.93"),), sizes=(
        ("GRP", "grape", "12.90", "6.90"), ("HED", "hedge", "38.50", "23.00"), ("LEF", "left-handed", "36.90", "22.40"))),
    Range(code="GLV", name="Work gloves", group="tools", unit="H87", others={"BX": "12"}, weight="0.1", breaks=(("60", "0.9"),), sizes=(
        ("08", "size 8", "4.80", "2.40"), ("09", "size 9", "4.80", "2.40"), ("10", "size 10", "4.80", "2.40"))),
    Range(code="LAD", name="Orchard ladder", group="tools", unit="H87", weight="11", sizes=(
        ("240", "2.4 m", "148.00", "101.00"), ("300", "3.0 m", "176.00", "121.00"))),
    Range(code="BSK", name="Picking basket", group="bins", unit="H87", others={"BX": "20"}, weight="0.8", breaks=(("100", "0.92"),), sizes=(
        ("08", "8 l", "5.20", "3.10"), ("14", "14 l", "7.90", "4.90"))),
    Range(code="PUN", name="Punnet with lid", group="bins", unit="H87", others={"BX": "600"}, weight="0.02", pack="600", breaks=(("6000", "0.9"),), sizes=(
        ("250", "250 g", "0.078", "0.049"), ("500", "500 g", "0.096", "0.061"), ("1000", "1 kg", "0.142", "0.094"))),
    Range(code="LID", name="Bin lid", group="bins", unit="H87", weight="4", sizes=(("300", "for 300 kg", "14.50", "9.60"), ("350", "for 350 kg", "19.80", "13.40"))),
    Range(code="PEA", name="Growing medium", group="substrates", unit="BG", others={"PF": "39"}, weight="18", breaks=(("39", "0.93"),), sizes=(
        ("BRY", "berries, 70 l", "11.40", "7.30"), ("TRE", "trees, 70 l", "10.60", "6.80"), ("SEE", "seedlings, 70 l", "12.90", "8.40"))),
    Range(code="MUL", name="Mulch mat, 1.2 × 50 m", group="substrates", unit="RL", weight="16", sizes=(
        ("JUT", "jute", "94.00", "63.00"), ("WOL", "wool", "118.00", "82.00"))),
    Range(code="POT", name="Nursery pot", group="substrates", unit="H87", others={"BX": "200"}, weight="0.1", pack="200", breaks=(("2000", "0.9"),), sizes=(
        ("03", "3 l", "0.34", "0.19"), ("05", "5 l", "0.46", "0.27"), ("10", "10 l", "0.81", "0.50"))),
    Range(code="MNF", name="Irrigation manifold", group="workshop", unit="H87", weight="9", sizes=(
        ("4", "4 outlets", "218.00", "141.00"), ("8", "8 outlets", "352.00", "231.00"), ("12", "12 outlets", "486.00", "322.00"))),
    Range(code="FLT", name="Filter station, workshop built", group="workshop", unit="H87", weight="48", sizes=(
        ("20", "20 m³/h", "780.00", "566.00"), ("60", "60 m³/h", "1680.00", "1260.00"))),
    Range(code="SRV", name="Service", group="services", unit="HUR", sizes=(
        ("PLN", "planning, by the hour", "74.00", "52.00"), ("TRN", "training on site, by the hour", "68.00", "47.00"))),
)  # fmt: skip


def as_rows() -> list[tuple[Any, ...]]:
    """The ranges as rows of the catalogue."""
    rows: list[tuple[Any, ...]] = []
    for kind in RANGES:
        for end, words, price, cost in kind.sizes:
            breaks = {start: f"x{share}" for start, share in kind.breaks}
            rows.append(
                (
                    f"{kind.code}-{end}", f"{kind.name}, {words}", kind.group, kind.unit, kind.others,
                    price, cost, breaks, kind.weight, kind.pack or "1", kind.pack,
                )
            )  # fmt: skip
    return rows
