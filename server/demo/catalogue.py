"""The demo's catalogue: invented goods for growers, with units, breaks and list prices."""

from datetime import date, timedelta
from decimal import Decimal

from apps.catalogue.models import (
    ExchangeRate,
    Item,
    ItemWord,
    PriceEntry,
    PriceList,
    TaxCategory,
)
from apps.stock.models import Substitute
from demo.factories import (
    ItemFactory,
    ItemGroupFactory,
    ItemUnitFactory,
    PriceEntryFactory,
    PriceListFactory,
    TaxCategoryFactory,
    UnitFactory,
)
from demo.ranges import as_rows
from demo.words import words_of

UNITS = {
    "H87": "piece",
    "MTR": "metre",
    "RL": "roll",
    "BX": "box",
    "BG": "bag",
    "KGM": "kilo",
    "PF": "pallet",
    "HUR": "hour",
    "DAY": "day",
    "E48": "visit",
}
GERMAN = {
    "H87": "Stück", "MTR": "Meter", "RL": "Rolle", "BX": "Karton", "BG": "Sack", "KGM": "Kilo", "PF": "Palette",
    "HUR": "Stunde", "DAY": "Tag", "E48": "Besuch",
}  # fmt: skip
GROUPS = {
    "posts": "Posts and anchors",
    "wire": "Wire and fixings",
    "drip": "Drip irrigation",
    "netting": "Netting and covers",
    "frost": "Frost protection",
    "tools": "Pruning and hand tools",
    "bins": "Harvest bins and crates",
    "substrates": "Substrates and mulch",
    "workshop": "Workshop-built",
    "services": "Services",
}
# code, name, group, base unit, other units, price per base, cost, breaks (from: price), weight,
# minimum, pack
# fmt: off
ITEMS = [
    ("POS-200", "Chestnut post 200 cm, pointed", "posts", "H87", {"PF": "120"}, "7.90", "5.35", {"120": "7.20"}, "5.2", "1", None),
    ("POS-250", "Chestnut post 250 cm, pointed", "posts", "H87", {"PF": "60"}, "10.00", "6.70", {"100": "8.50", "600": "8.10"}, "8.4", "1", None),
    ("POS-300", "Larch end post 300 cm", "posts", "H87", {"PF": "40"}, "21.40", "14.60", {"40": "19.90"}, "14", "1", None),
    ("POS-S25", "Steel post 250 cm, galvanised", "posts", "H87", {"PF": "200"}, "12.60", "8.95", {"200": "11.40"}, "4.1", "10", "10"),
    ("ANC-110", "Ground anchor, screw, 110 cm", "posts", "H87", {"BX": "12"}, "9.35", "5.90", {"48": "8.80"}, "2.3", "1", None),
    ("ANC-080", "Ground anchor, plate, 80 cm", "posts", "H87", {"BX": "20"}, "5.15", "3.20", {"100": "4.75"}, "1.1", "1", None),
    ("WIR-025", "Galvanised wire 2.5 mm", "wire", "MTR", {"RL": "100"}, "0.645", "0.42", {"2000": "0.598"}, "0.04", "100", "100"),
    ("WIR-031", "Galvanised wire 3.1 mm", "wire", "MTR", {"RL": "100"}, "0.89", "0.61", {"2000": "0.83"}, "0.06", "100", "100"),
    ("WIR-POL", "Polyester wire 2.2 mm", "wire", "MTR", {"RL": "500"}, "0.118", "0.064", {}, "0.005", "500", "500"),
    ("FIX-STA", "Fence staples 40 mm", "wire", "KGM", {"BX": "5"}, "4.90", None, {"25": "4.45"}, "1", "1", None),
    ("FIX-TEN", "Wire tensioner, ratchet", "wire", "H87", {"BX": "25"}, "3.85", "2.10", {"100": "3.45"}, "0.3", "1", None),
    ("TIE-100", "Tree tie, rubber, 45 cm", "wire", "H87", {"BX": "100"}, "0.214", "0.126", {"1000": "0.196"}, "0.03", "100", "100"),
    ("DRI-016", "Drip line 16 mm, 0.5 m spacing", "drip", "MTR", {"RL": "400"}, "0.38", "0.234", {"2000": "0.352", "8000": "0.331"}, "0.05", "400", "400"),
    ("DRI-020", "Drip line 20 mm, 0.75 m spacing", "drip", "MTR", {"RL": "300"}, "0.54", "0.335", {"3000": "0.505"}, "0.07", "300", "300"),
    ("DRI-CON", "Barbed connector 16 mm", "drip", "H87", {"BG": "50"}, "0.31", "0.14", {}, "0.01", "50", "50"),
    ("DRI-VAL", "Line valve 20 mm", "drip", "H87", {"BX": "20"}, "4.20", "2.55", {"60": "3.90"}, "0.1", "1", None),
    ("DRI-REG", "Pressure regulator 1.5 bar", "drip", "H87", {}, "27.50", "18.40", {"10": "25.90"}, "0.4", "1", None),
    ("NET-730", "Hail net, black, 7 × 30 m", "netting", "RL", {}, "312.00", "219.00", {"12": "296.00"}, "12", "1", None),
    ("NET-740", "Hail net, crystal, 7 × 30 m", "netting", "RL", {}, "338.00", "233.00", {"12": "319.00"}, "11", "1", None),
    ("NET-BIR", "Bird net 5 × 100 m", "netting", "RL", {}, "148.00", "96.00", {"6": "139.50"}, "9", "1", None),
    ("NET-FLE", "Crop fleece 19 g, 12.8 × 250 m", "netting", "RL", {}, "189.00", "131.00", {}, "61", "1", None),
    ("NET-CLI", "Net clip", "netting", "H87", {"BG": "200"}, "0.065", "0.029", {}, "0.01", "200", "200"),
    ("FRO-420", "Frost candle, 8 h burn", "frost", "H87", {"PF": "180"}, "8.90", "5.95", {"360": "8.55", "720": "8.30"}, "6", "1", None),
    ("FRO-FAN", "Frost alarm with two probes", "frost", "H87", {}, "189.00", "126.00", {}, "0.9", "1", None),
    ("FRO-SPR", "Frost sprinkler, full circle", "frost", "H87", {"BX": "10"}, "11.80", "7.35", {"50": "10.90"}, "0.2", "1", None),
    ("TOO-SEC", "Secateurs, bypass, 22 mm", "tools", "H87", {"BX": "10"}, "34.50", "21.90", {"10": "31.90"}, "0.3", "1", None),
    ("TOO-LOP", "Lopper, telescopic, 65–100 cm", "tools", "H87", {}, "58.00", "38.50", {}, "1.4", "1", None),
    ("TOO-SAW", "Pruning saw, 30 cm, sheath", "tools", "H87", {"BX": "12"}, "27.90", "17.10", {"12": "25.40"}, "0.4", "1", None),
    ("BIN-CRA", "Harvest crate 15 kg, stacking", "bins", "H87", {"PF": "100"}, "6.20", "4.10", {"100": "5.75", "500": "5.50"}, "1.5", "1", None),
    ("BIN-300", "Orchard bin 300 kg, wooden", "bins", "H87", {}, "64.00", "46.50", {"20": "59.50"}, "38", "1", None),
    ("BIN-PLA", "Orchard bin 350 kg, plastic", "bins", "H87", {}, "118.00", "84.00", {"20": "111.00"}, "33", "1", None),
    ("SUB-COC", "Coir block 5 kg", "substrates", "H87", {"PF": "180"}, "7.45", "4.80", {"180": "6.70"}, "5", "1", None),
    ("SUB-PER", "Perlite, coarse, 100 l", "substrates", "BG", {"PF": "30"}, "19.90", "13.40", {"30": "17.80"}, "9", "1", None),
    ("SUB-BAR", "Pine bark mulch 60 l", "substrates", "BG", {"PF": "48"}, "5.60", "3.55", {"48": "5.05", "480": "4.80"}, "20", "1", None),
    ("MAN-6", "Irrigation manifold, 6 outlets", "workshop", "H87", {}, "286.00", "184.00", {}, "7", "1", None),
    ("DRI-F40", "Filter station 40 m³/h, workshop built", "workshop", "H87", {}, "1190.00", "897.00", {}, "64", "1", None),
    ("END-ASM", "End-post assembly, braced", "workshop", "H87", {}, "74.50", "51.00", {"20": "69.90"}, "26", "1", None),
    ("SRV-DAY", "Installation day, two fitters", "services", "DAY", {}, "890.00", "694.00", {}, None, None, None),
    ("SRV-SUR", "Layout survey", "services", "E48", {}, "340.00", "262.00", {}, None, None, None),
    ("SRV-STA", "Start-up visit", "services", "E48", {}, "260.00", "180.00", {}, None, None, None),
    ("SRV-HUR", "Fitter, by the hour", "services", "HUR", {}, "58.00", "43.00", {}, None, None, None),
]
SOLD_IN = {"WIR-025": "RL", "WIR-031": "RL", "WIR-POL": "RL", "TIE-100": "BX", "DRI-CON": "BG", "NET-CLI": "BG", "FIX-STA": "BX"}
# fmt: on
RATES = {"GBP": ("1.1520", "1.1685"), "CHF": ("1.0440", "1.0615")}


#: Items that can take another's place, so many for one.
SUBSTITUTES = (
    ("NET-730", "NET-740", "1"),
    ("POS-250", "POS-S25", "1"),
    ("BIN-PLA", "BIN-300", "1"),
    ("WIR-025", "WRH-250", "1"),
)


def make_catalogue(today: date) -> None:
    """Units, taxes, items and four lists: base, trade (5 % below), sterling, francs."""
    units = {
        code: UnitFactory(code=code, name=name, name_de=GERMAN[code])
        for code, name in UNITS.items()
    }
    standard, reduced = _taxes()
    base = PriceListFactory(code="base", name="Base list", currency="EUR")
    PriceListFactory(
        code="trade", name="Trade list", currency="EUR", derives_from=base,
        factor=Decimal("0.95"), round_to=Decimal("0.001"),
    )  # fmt: skip
    groups = {code: ItemGroupFactory(code=code, name=name) for code, name in GROUPS.items()}
    year = date(today.year, 1, 1)
    for code, name, group, unit, others, price, cost, breaks, weight, least, pack in [
        *ITEMS,
        *as_rows(),
    ]:
        item = ItemFactory(
            code=code,
            name=name,
            group=groups[group],
            kind={"services": "service", "workshop": "made"}.get(group, "goods"),
            base_unit=units[unit],
            sales_unit=units[SOLD_IN.get(code, unit)],
            tax_category=reduced if group == "substrates" else standard,
            weight_kg=_number(weight),
            cost=_number(cost),
            minimum_quantity=_number(least),
            pack_multiple=_number(pack),
        )
        for other, factor in others.items():
            ItemUnitFactory(item=item, unit=units[other], factor=Decimal(factor))
        _prices(base, item, Decimal(price), breaks, year)
    _foreign_lists(base)
    _rates(today)
    _substitutes()
    _words()


def _words() -> None:
    """What growers call the goods beside their names."""
    ItemWord.objects.bulk_create(
        ItemWord(item_id=key, word=word)
        for key, code in Item.objects.values_list("pk", "code")
        for word in words_of(code)
    )


def _substitutes() -> None:
    """What can stand in for what."""
    items = {item.code: item for item in Item.objects.all()}
    Substitute.objects.bulk_create(
        Substitute(item=items[code], instead=items[other], factor=Decimal(factor))
        for code, other, factor in SUBSTITUTES
    )


def _number(written: str | None) -> Decimal | None:
    return Decimal(written) if written else None


def _taxes() -> tuple[TaxCategory, TaxCategory]:
    """The standard and the reduced rate; beside them what goes abroad."""
    TaxCategoryFactory(
        code="export",
        name="Export",
        percent="",
        reason="Export: free of tax at delivery abroad.",
        reason_de="Ausfuhrlieferung: steuerfrei.",
    )
    standard = TaxCategoryFactory.create(code="standard", name="Standard rate", percent="20")
    reduced = TaxCategoryFactory.create(code="reduced", name="Reduced rate", percent="10")
    return standard, reduced


def _prices(
    base: PriceList, item: Item, price: Decimal, breaks: dict[str, str], year: date
) -> None:
    """This year's prices, and last year's, a little lower and expired."""
    old = (price * Decimal("0.96")).quantize(Decimal("0.001"))
    PriceEntryFactory(price_list=base, item=item, price=old, valid_to=year - timedelta(days=1))
    PriceEntryFactory(price_list=base, item=item, price=price, valid_from=year)
    for start, better in breaks.items():
        PriceEntryFactory(
            price_list=base,
            item=item,
            price=_better(price, better),
            from_quantity=Decimal(start),
            valid_from=year,
        )


def _better(price: Decimal, better: str) -> Decimal:
    """A break's price; "x0.93" is a share of the first one."""
    if better.startswith("x"):
        return (price * Decimal(better[1:])).quantize(Decimal("0.001"))
    return Decimal(better)


def _foreign_lists(base: PriceList) -> None:
    """Lists in sterling and francs, kept by hand in those currencies."""
    for code, name, currency, factor in (
        ("sterling", "Sterling list", "GBP", "0.87"),
        ("francs", "Franc list", "CHF", "0.95"),
    ):
        own = PriceListFactory(code=code, name=name, currency=currency)
        entries = base.entries.filter(valid_to__isnull=True).select_related("item__base_unit")
        PriceEntry.objects.bulk_create(
            PriceEntryFactory.build(
                price_list=own,
                item=entry.item,
                price=(entry.price * Decimal(factor)).quantize(Decimal("0.001")),
                from_quantity=entry.from_quantity,
                valid_from=entry.valid_from,
            )
            for entry in entries
        )


def _rates(today: date) -> None:
    for currency, (then, now) in RATES.items():
        ExchangeRate.objects.create(
            currency=currency, on=today - timedelta(days=1000), rate=Decimal(then)
        )
        ExchangeRate.objects.create(
            currency=currency, on=today - timedelta(days=3), rate=Decimal(now)
        )
