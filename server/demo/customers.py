"""The demo's customers: invented growers, each with a way of paying."""

from decimal import Decimal
from typing import Any

from apps.catalogue.models import PriceList, TaxCategory
from apps.customers.marks import refresh_marks
from apps.customers.models import Customer
from apps.customers.payment import More, more_of
from apps.people.models import User
from demo import growers
from demo.factories import AddressFactory, ContactFactory, CustomerFactory

#: name, kind, owner, list, limit, terms (days, end of month), town, contacts, habit, parent
# fmt: off
CUSTOMERS = [
    ("Marrow Vale Growers", "buying group", "ilse", "trade", "90000", (30, "after"), "Marrow Vale", ["Ansel Rook, buyer", "Fenna Dray, accounts"], "good", None),
    ("Hazelmoor Orchards", "grower", "ilse", "trade", "40000", (30, ""), "Hazelmoor", ["Maren Holt, orchard manager", "Jory Pell, accounts"], "slow", "Marrow Vale Growers"),
    ("Two Elms Fruit", "grower", "ilse", "trade", "15000", (14, ""), "Marrow Vale", ["Sunniva Arkle, owner"], "good", "Marrow Vale Growers"),
    ("Stonebeck Farm", "grower", "ilse", "base", "60000", (30, ""), "Stonebeck", ["Edda Morrow, farm manager"], "good", None),
    ("Kettlewick Nursery", "tree nursery", "ilse", "base", "20000", (30, ""), "Kettlewick", ["Piers Aldane, head grower"], "late", None),
    ("Quince House Estate", "estate", "ilse", "base", "25000", (30, ""), "Quincey", ["Lotte Farr, steward"], "good", None),
    ("Corvale Berries", "berry farm", "ilse", "base", "10000", (14, ""), "Corvale", ["Tam Ruddock, owner"], "limit", None),
    ("Brackenby Soft Fruit", "berry farm", "tomas", "base", "18000", (30, ""), "Brackenby", ["Oona Vell, owner"], "good", None),
    ("Saltmarsh Vineyards", "wine estate", "tomas", "trade", "80000", (30, "after"), "Saltmarsh", ["Cosmo Thrane, vineyard manager", "Ida Wren, purchasing"], "good", None),
    ("Dunmere Estate", "wine estate", "tomas", "trade", "120000", (60, ""), "Dunmere", ["Rafe Sollis, estate manager"], "slow", None),
    ("Wren Nurseries", "nursery chain", "tomas", "trade", "70000", (30, ""), "Northgate", ["Nell Arkwright, buyer", "Bo Tansy, accounts"], "good", None),
    ("Fellgate Orchards", "grower", "tomas", "base", "50000", (30, ""), "Fellgate", ["Greta Holm, owner"], "good", None),
    ("Ottoline Fruit", "grower", "tomas", "base", "12000", (14, ""), "Ottoline", ["Bram Keld, owner"], "held", None),
    ("Sable Farm", "grower", "amara", "base", "30000", (30, ""), "Sable", ["Ines Corrow, farm manager"], "good", None),
    ("Penhallow Cider", "cider maker", "amara", "base", "22000", (30, ""), "Penhallow", ["Jago Trew, cider maker"], "slow", None),
    ("Bright Acre Trust", "research orchard", "amara", "base", "45000", (30, ""), "Bright Acre", ["Dr Una Salter, head of trials"], "good", None),
    ("Tarn & Daughters", "grower", "amara", "trade", "35000", (30, ""), "Tarn", ["Hedda Tarn, owner"], "good", None),
    ("Lindqvist Bär AG", "grower", "amara", "francs", "40000", (30, ""), "Ostrava Hill", ["Kaspar Lindqvist, owner"], "good", None),
    ("Abbotsmere Cherries", "grower", "ilse", "sterling", "25000", (30, ""), "Abbotsmere", ["Perrin Vane, owner"], "good", None),
    ("Nettlecombe Hops", "hop farm", "amara", "base", None, (30, ""), "Nettlecombe", ["Merle Ashby, owner"], "new", None),
]
# fmt: on
ALL_CUSTOMERS: list[tuple[Any, ...]] = [*CUSTOMERS, *growers.as_rows()]
COUNTRY = {"francs": "CH", "sterling": "GB"}


#: Who pays on a fixed day, in parts, or less if early.
FURTHER_TERMS: dict[str, More] = {
    "Saltmarsh Vineyards": more_of(early=(Decimal(2), 10)),
    "Tarn & Daughters": more_of(fixed_day=10),
    "Hazelmoor Orchards": more_of(instalments=((Decimal(30), 0), (Decimal(70), 60))),
}


def make_customers(people: dict[str, User]) -> dict[str, Customer]:
    """Everybody who buys, by name."""
    lists = {row.code: row for row in PriceList.objects.all()}
    export = TaxCategory.objects.get(code="export")
    made: dict[str, Customer] = {}
    for n, row in enumerate(ALL_CUSTOMERS, start=1):
        name, kind, owner, price_list, limit, (days, month_end), town, contacts, habit, parent = row
        customer = CustomerFactory(
            number=f"C-{1000 + n}",
            name=name,
            kind=kind,
            owner=people[owner],
            price_list=lists[price_list],
            tier=price_list if price_list in ("trade", "base") else "abroad",
            parent=made.get(parent) if parent else None,
            language="de" if price_list == "francs" else "en",
            payable_step=Decimal("0.05") if price_list == "francs" else Decimal("0.01"),
            tax_category=export if price_list in COUNTRY else None,
            tax_number=f"QF {100 + n:03d} {n * 37 % 1000:03d} {n * 91 % 1000:03d}",
            terms_days=days,
            terms_end_of_month=month_end,
            terms_more=FURTHER_TERMS.get(name, {}),
            credit_limit=Decimal(limit) if limit else None,
            held=habit == "held",
            held_itself=habit == "held",
        )
        made[name] = customer
        _reach(customer, n, town, contacts, COUNTRY.get(price_list, "QF"))
    refresh_marks(row.pk for row in made.values())
    return made


def _reach(customer: Customer, n: int, town: str, contacts: list[str], country: str) -> None:
    host = "".join(ch for ch in customer.name.lower() if ch.isascii() and ch.isalpha())
    for m, entry in enumerate(contacts):
        name, role = entry.split(", ")
        ContactFactory(
            customer=customer,
            name=name,
            role=role,
            email=f"{name.split()[-2 if name.startswith('Dr') else 0].lower()}@{host}.example",
            phone=f"+44 1632 960 {200 + n * 3 + m:03d}",
        )
    AddressFactory(
        customer=customer,
        street=f"{n * 3} Orchard Road",
        postcode=f"QF{n} {n % 9 + 1}AB",
        town=town,
        country=country,
    )
    if n % 3:
        AddressFactory(
            customer=customer,
            kind="delivery",
            label="North field barn" if n % 2 else "Packing yard",
            street=f"{town} Lane",
            postcode=f"QF{n} {n % 9 + 1}AC",
            town=town,
            country=country,
        )
