"""What the demo has agreed ahead: call-offs that are planned, orders that repeat."""

from datetime import date, timedelta
from decimal import Decimal

from apps.calloffs.flows import keep_plan
from apps.catalogue.models import Item
from apps.customers.models import Customer
from apps.people.models import User
from apps.prices.models import Agreement
from apps.standing_orders.flows import Each, Wish, add_standing_order
from routecore.agreement import Planned
from routecore.repeat import Repetition

D = Decimal


def make_ahead(customers: dict[str, Customer], today: date) -> None:
    """An agreement over money, planned call-offs of which one is due, standing orders of which one asks."""
    ilse = User.objects.get(username="ilse")
    _agree_on_money(customers["Two Elms Fruit"], today)
    candles = Agreement.objects.get(number="FA-0022")
    plan = [
        Planned(on=today + timedelta(days=days), quantity=D(quantity))
        for days, quantity in ((4, 360), (60, 360), (120, 280))
    ]
    keep_plan(ilse, candles.pk, 0, notice_days=10, rows=plan)
    _repeat(
        ilse,
        customers["Stonebeck Farm"],
        Wish(
            title="Tree ties for the week's planting",
            repetition=Repetition(every="week", interval=2, weekdays=(0,)),
            begins=today,
            ends=None,
            notice_days=14,
            buyer_reference="Planting",
            delivery_address_id=None,
            lines=_lines(("TIE-100", "5", "BX"), ("POS-300", "4", "H87")),
        ),
        today,
    )
    _repeat(
        ilse,
        customers["Hazelmoor Orchards"],
        Wish(
            title="Frost candles before blossom",
            repetition=Repetition(every="month", turn=1, weekdays=(0,), months=(3, 4, 5)),
            begins=today,
            ends=None,
            notice_days=14,
            buyer_reference="",
            delivery_address_id=None,
            lines=_lines(("FRO-420", "180", "H87")),
        ),
        today,
    )


def _agree_on_money(customer: Customer, today: date) -> None:
    item = Item.objects.get(code="WIR-025")
    Agreement.objects.create(
        number="FA-0024",
        customer=customer,
        item=item,
        unit=item.base_unit,
        currency="EUR",
        price=D("0.60"),
        quantity=D(15000),
        amount=D(9000),
        valid_from=today - timedelta(days=200),
        valid_to=today + timedelta(days=120),
    )


def _repeat(who: User, customer: Customer, wish: Wish, today: date) -> None:
    add_standing_order(who, customer.pk, wish, today=today)


def _lines(*rows: tuple[str, str, str]) -> list[Each]:
    items = dict(Item.objects.values_list("code", "pk"))
    return [
        Each(item_id=items[code], quantity=D(quantity), unit=unit) for code, quantity, unit in rows
    ]
