"""The rest of the demo's customers: growers of all sizes, made from invented names."""

from typing import Any

NAMES = (
    "Ashgarth", "Birkmoor", "Coldwell", "Darrowby End", "Elverstone", "Fernhollow", "Gildersome Lea", "Hollinwood Rise",
    "Inglebeck", "Jackdaw Hill", "Kelderfold", "Larkmere", "Millrace", "Nettlefold", "Owlsworth", "Pippinholt",
    "Quernside", "Rushmere Fold", "Swallowdale Bank", "Thornmarsh", "Umberleigh Top", "Vinebeck", "Withycombe Lea",
    "Yarrowfield", "Applegarth", "Bramblewick", "Cherrystone", "Damsonhurst", "Elderbeck", "Figtree Close", "Gorsefield",
    "Hawthorne Ley", "Ivybank", "Junipermoor", "Kestrel Vale", "Lindenfold", "Medlar Bank", "Northfen", "Orchard End", "Pearmain",
)  # fmt: skip
KINDS = (
    ("grower", "Fruit"), ("berry farm", "Berries"), ("tree nursery", "Nursery"), ("wine estate", "Vineyard"), ("cider maker", "Cider"),
)  # fmt: skip
FIRST = (
    "Alba",
    "Corin",
    "Dagny",
    "Ewan",
    "Freya",
    "Gerrit",
    "Hanne",
    "Isolde",
    "Jarl",
    "Kirsten",
    "Lorcan",
    "Mirre",
)
LAST = (
    "Astley",
    "Brandt",
    "Colley",
    "Dunmore",
    "Esker",
    "Faulk",
    "Grane",
    "Hollis",
    "Ister",
    "Jessop",
    "Kilner",
    "Lund",
)
HABITS = ("good", "good", "slow", "good", "late", "good", "good", "slow", "good", "new")
OWNERS = ("ilse", "tomas", "amara")
LISTS = ("base", "trade", "base", "base", "trade")
LIMITS = ("8000", "15000", "24000", "40000", "60000")


def as_rows() -> list[tuple[Any, ...]]:
    """The growers as rows of the customers; a second buying group has its members among them."""
    rows: list[tuple[Any, ...]] = [
        ("Fenland Fruit Union", "buying group", "tomas", "trade", "110000", (30, "after"), "Fenbridge",
         ["Corin Astley, buyer", "Hanne Lund, accounts"], "good", None),
    ]  # fmt: skip
    for n, name in enumerate(NAMES):
        kind, word = KINDS[n % len(KINDS)]
        habit = HABITS[n % len(HABITS)]
        person = f"{FIRST[n % len(FIRST)]} {LAST[(n * 5 + 3) % len(LAST)]}"
        rows.append(
            (
                f"{name} {word}",
                kind,
                OWNERS[n % len(OWNERS)],
                LISTS[n % len(LISTS)],
                LIMITS[n % len(LIMITS)],
                (14 if n % 4 == 0 else 30, "after" if n % 6 == 0 else ""),
                name,
                [f"{person}, owner"],
                habit,
                "Fenland Fruit Union" if n % 7 == 1 else None,
            )
        )
    return rows
