"""What growers call the demo's goods beside their names: German words, and short ones of the trade."""

from demo.ranges import RANGES as AS_RANGES

#: By item code; a range's sizes are named by ``RANGES``.
ITEMS: dict[str, tuple[str, ...]] = {
    "POS-200": ("Kastanienpfahl 200 cm angespitzt", "Kastanienpfosten 200 cm"),
    "POS-250": ("Kastanienpfahl 250 cm angespitzt", "Kastanienpfosten 250 cm"),
    "POS-300": ("Endpfahl Lärche 300 cm", "Lärchenendpfahl 300 cm"),
    "POS-S25": ("Stahlpfahl 250 cm verzinkt", "Stahlpfosten 250 cm verzinkt"),
    "ANC-110": ("Bodenanker Schraube 110 cm", "Schraubanker 110 cm", "screw anchor 110 cm"),
    "ANC-080": ("Bodenanker Platte 80 cm", "Plattenanker 80 cm", "plate anchor 80 cm"),
    "WIR-025": ("Draht verzinkt 2,5 mm",),
    "WIR-031": ("Draht verzinkt 3,1 mm",),
    "WIR-POL": ("Polyesterdraht 2,2 mm",),
    "FIX-STA": ("Drahtkrampen 40 mm", "Krampen 40 mm"),
    "FIX-TEN": ("Drahtspanner Ratsche",),
    "TIE-100": ("Baumanbinder Gummi 45 cm", "Baumbinder 45 cm"),
    "DRI-016": ("Tropfrohr 16 mm Abstand 0,5 m", "Tropfschlauch 16 mm"),
    "DRI-020": ("Tropfrohr 20 mm Abstand 0,75 m", "Tropfschlauch 20 mm"),
    "DRI-CON": ("Steckverbinder 16 mm", "Verbinder 16 mm"),
    "DRI-VAL": ("Leitungsventil 20 mm", "Absperrventil 20 mm"),
    "DRI-REG": ("Druckregler 1,5 bar", "Druckminderer 1,5 bar"),
    "NET-730": ("Hagelnetz schwarz 7 × 30 m",),
    "NET-740": ("Hagelnetz kristall 7 × 30 m", "Hagelnetz weiß 7 × 30 m"),
    "NET-BIR": ("Vogelnetz 5 × 100 m", "Vogelschutznetz 5 × 100 m"),
    "NET-FLE": ("Kulturvlies 19 g 12,8 × 250 m", "Vlies 19 g"),
    "NET-CLI": ("Netzklammer", "Netzclip"),
    "FRO-420": ("Frostkerze 8 h", "Frostschutzkerze"),
    "FRO-FAN": ("Frostwarner mit zwei Fühlern", "Frostmelder"),
    "FRO-SPR": ("Frostregner Vollkreis", "Frostberegnung Regner"),
    "TOO-SEC": ("Rebschere Bypass 22 mm", "Baumschere Bypass 22 mm"),
    "TOO-LOP": ("Teleskop-Astschere 65–100 cm", "Astschere teleskopisch"),
    "TOO-SAW": ("Astsäge 30 cm mit Köcher", "Baumsäge 30 cm"),
    "BIN-CRA": ("Erntekiste 15 kg stapelbar", "Stapelkiste 15 kg"),
    "BIN-300": ("Großkiste 300 kg Holz", "Holzgroßkiste 300 kg"),
    "BIN-PLA": ("Großkiste 350 kg Kunststoff", "Kunststoffgroßkiste 350 kg"),
    "SUB-COC": ("Kokosblock 5 kg", "Kokosziegel 5 kg"),
    "SUB-PER": ("Perlit grob 100 l",),
    "SUB-BAR": ("Pinienrinde 60 l", "Rindenmulch 60 l"),
    "MAN-6": ("Bewässerungsverteiler 6 Abgänge",),
    "DRI-F40": ("Filterstation 40 m³/h",),
    "END-ASM": ("Endpfahlverstrebung", "Endpfahlgarnitur"),
    "SRV-DAY": ("Montagetag zwei Monteure", "Montage"),
    "SRV-SUR": ("Aufmaß", "Geländeaufmaß"),
    "SRV-STA": ("Inbetriebnahme",),
    "SRV-HUR": ("Monteurstunde", "Monteur"),
}
#: By a range's code: what it is called, and what its sizes are called where they are no measure.
RANGES: dict[str, tuple[tuple[str, ...], dict[str, str]]] = {
    "PST": (("Lärchenpfahl rund", "Lärchenpfosten rund"), {}),
    "STK": (("Bambusstab", "Tonkinstab"), {}),
    "WRH": (("Hochzugdraht", "Federstahldraht"), {}),
    "CLP": (("Drahtklammer", "Drahtclip"), {"S": "klein", "M": "mittel", "L": "groß"}),
    "PIP": (("Zuleitungsrohr", "PE-Rohr"), {}),
    "ELB": (("Bogen 90°", "Winkel 90°"), {}),
    "TEE": (("T-Stück",), {}),
    "DRP": (("Einzeltropfer",), {}),
    "SHD": (("Schattiernetz 4 × 50 m",), {}),
    "RNC": (("Regenkappe", "Regenschutzfolie"), {}),
    "WND": (("Windschutz 100 m", "Windschutznetz 100 m"), {"100": "1 m hoch", "200": "2 m hoch"}),
    "HTR": (("Frostheizer", "Frostofen"), {}),
    "THM": (("Thermometer",), {"MIN": "Minimum Maximum", "RAD": "Feuchtkugel Funk"}),
    "SHE": (("Schere",), {"GRP": "Traube", "HED": "Hecke", "LEF": "Linkshänder"}),
    "GLV": (("Arbeitshandschuhe", "Handschuhe"), {"08": "Größe 8", "09": "Größe 9", "10": "Größe 10"}),
    "LAD": (("Obstleiter", "Baumleiter"), {}),
    "BSK": (("Pflückkorb",), {}),
    "PUN": (("Schale mit Deckel", "Beerenschale mit Deckel"), {}),
    "LID": (("Kistendeckel", "Deckel Großkiste"), {"300": "300 kg", "350": "350 kg"}),
    "PEA": (("Pflanzsubstrat", "Substrat"), {"BRY": "Beeren 70 l", "TRE": "Bäume 70 l", "SEE": "Anzucht 70 l"}),
    "MUL": (("Mulchmatte 1,2 × 50 m",), {"JUT": "Jute", "WOL": "Wolle"}),
    "POT": (("Container", "Topf", "Pflanztopf"), {}),
    "MNF": (("Bewässerungsverteiler",), {"4": "4 Abgänge", "8": "8 Abgänge", "12": "12 Abgänge"}),
    "FLT": (("Filterstation",), {}),
    "SRV": (("Dienstleistung",), {"PLN": "Planung Stunde", "TRN": "Schulung vor Ort Stunde"}),
}  # fmt: skip


def words_of(code: str) -> tuple[str, ...]:
    """What an item is called beside its name."""
    start, _, end = code.partition("-")
    kind = next((each for each in AS_RANGES if each.code == start), None)
    if code in ITEMS or kind is None:
        return ITEMS.get(code, ())
    names, sizes = RANGES[start]
    size = sizes.get(end) or next(words for each, words, *_ in kind.sizes if each == end)
    return tuple(f"{name} {size}" for name in names)
