"""Orders and deliveries. What an order's state is follows from its rows; nobody sets it."""

from django.conf import settings
from django.db import models

from apps.catalogue.models import Item
from apps.columns import (
    amount_column,
    exact_quantity_column,
    one_of,
    positive,
    price_column,
    quantity_column,
    sorting,
)
from apps.customers.models import Contact, Customer
from apps.deals.models import Deal
from apps.prices.models import Agreement
from apps.quotes.models import QuoteLine, Revision
from apps.stock.models import Depot

CANCELLED = models.Q(cancelled_at__isnull=False)


def _when(condition: models.Q, cancelled: bool) -> models.Case:
    """Whether a condition holds; of a cancelled order, what is said."""
    return models.Case(
        models.When(CANCELLED, then=cancelled), models.When(condition, then=True), default=False
    )


class Order(models.Model):
    """What was accepted of one or more offers, with everything carried over and prices locked.

    ``revision`` is the offer whose terms it has; ``Acceptance`` has all of them. A cancelled one stays
    as it was, and counts nowhere any more: what it took is left of its offers again. Without
    ``partial_deliveries`` it leaves whole, once the last of its goods is there. From
    ``goods_quantity`` on, how far it has come, as ``apps.orders.kept`` declares it: the database
    writes it, nobody else.
    """

    number = models.CharField(max_length=20, unique=True)
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="orders")
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="orders")
    deal = models.ForeignKey(Deal, on_delete=models.PROTECT, null=True, related_name="orders")
    contact = models.ForeignKey(Contact, on_delete=models.SET_NULL, null=True)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="orders"
    )
    accepted_on = models.DateField()
    buyer_reference = models.CharField(max_length=60, blank=True)
    requested_on = models.DateField(null=True)
    buyer = models.JSONField(default=dict)
    delivery_address = models.JSONField(null=True)
    partial_deliveries = models.BooleanField(default=True)
    currency = models.CharField(max_length=3)
    terms_days = models.PositiveSmallIntegerField()
    terms_end_of_month = models.CharField(max_length=6, blank=True)
    terms_more = models.JSONField(default=dict)
    lines_net = amount_column()
    document_discount = amount_column()
    charges = models.JSONField(default=list)
    net = amount_column()
    tax = models.JSONField(default=list)
    tax_total = amount_column()
    gross = amount_column()
    payable_rounding = amount_column()
    payable = amount_column()
    base_payable = amount_column()
    created_at = models.DateTimeField(auto_now_add=True)
    version = models.PositiveIntegerField(default=1)
    cancelled_at = models.DateTimeField(null=True)
    cancelled_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    cancel_reason = models.CharField(max_length=200, blank=True)
    goods_quantity = quantity_column(default=0, editable=False)
    leaves_on = models.DateField(null=True, editable=False)
    shipped_quantity = quantity_column(default=0, editable=False)
    invoiced = amount_column(default=0, editable=False)
    settled = amount_column(default=0, editable=False)
    credited = amount_column(default=0, editable=False)
    handover_state = models.CharField(max_length=10, default="", editable=False)
    backoffice_number = models.CharField(max_length=30, default="", editable=False)
    customer_name = models.CharField(max_length=120, default="", editable=False)
    owner_name = models.CharField(max_length=150, default="", editable=False)
    paid = models.GeneratedField(
        expression=_when(models.Q(settled__gt=0, settled__gte=models.F("payable")), cancelled=True),
        output_field=models.BooleanField(),
        db_persist=True,
    )
    to_ship = models.GeneratedField(
        expression=_when(
            models.Q(shipped_quantity__lt=models.F("goods_quantity")), cancelled=False
        ),
        output_field=models.BooleanField(),
        db_persist=True,
    )
    billed = models.GeneratedField(
        expression=_when(models.Q(invoiced__gte=models.F("payable")), cancelled=True),
        output_field=models.BooleanField(),
        db_persist=True,
    )

    class Meta:
        indexes = [
            models.Index(fields=["owner", "accepted_on"]),
            models.Index(fields=["customer", "billed"], name="order_to_bill"),
            models.Index(fields=["billed", "owner"], name="order_to_bill_by_owner"),
            models.Index(fields=["to_ship", "leaves_on"], name="order_to_ship_by"),
            models.Index(fields=["handover_state", "cancelled_at"], name="order_by_handover"),
            *(
                models.Index(fields=["paid", column], name=f"order_by_paid_and_{column}"[:30])
                for column in ("accepted_on", "owner")
            ),
            *(
                sorting(column, f"order_by_{column}")
                for column in (
                    *("accepted_on", "requested_on", "leaves_on", "payable", "customer_name"),
                    *("handover_state", "backoffice_number", "owner_name"),
                )
            ),
        ]


class Acceptance(models.Model):
    """What an order takes of one offer, and what the offer's discount and charges came to in it.

    ``lines_net`` is the net of the lines taken; ``discount`` on the net or on the gross, as the offer names
    it; ``charges`` as decimal text, in the offer's order. ``excesses`` are the limits of whoever wrote it that
    the order exceeds and the offer did not, as a revision keeps its own: somebody signs them off before the
    order is handed over. ``changed_at`` moves whenever a quantity does.
    """

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="acceptances")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="acceptances")
    lines_net = amount_column()
    discount = amount_column()
    charges = models.JSONField(default=list)
    excesses = models.JSONField(default=list)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["order", "revision"], name="acceptance_once")
        ]


class OrderLine(models.Model):
    """A line of an order: all of a quote line, or a part of it.

    ``delivery_address`` is where this line goes; None where the order goes.
    ``called_off`` is how much of the agreement it takes, in the item's base unit: exactly, whatever
    the units of the line and of the agreement. ``promised_on`` is the day on which it leaves the depot,
    ``arrives_on`` when it is there; ``missing`` what is short, in the item's base unit, when it was
    ordered. ``reserve_by`` is the day whose place it stands in, once it changed places with another.
    ``first_quantity`` is what was ordered at first, once less of it is wanted; ``quantity`` may be nothing then.
    """

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="lines")
    quote_line = models.ForeignKey(QuoteLine, on_delete=models.PROTECT, related_name="order_lines")
    position = models.PositiveIntegerField()
    item = models.ForeignKey(Item, on_delete=models.PROTECT)
    text = models.CharField(max_length=200)
    quantity = quantity_column()
    unit = models.CharField(max_length=3)
    price = price_column()
    per = quantity_column()
    price_unit = models.CharField(max_length=3)
    discount_percent = quantity_column(null=True)
    agreement = models.ForeignKey(
        Agreement, on_delete=models.PROTECT, null=True, related_name="call_offs"
    )
    called_off = exact_quantity_column(null=True)
    depot = models.ForeignKey(Depot, on_delete=models.PROTECT, null=True, related_name="+")
    delivery_address = models.JSONField(null=True)
    wanted_on = models.DateField(null=True)
    promised_on = models.DateField(null=True)
    arrives_on = models.DateField(null=True)
    reserve_by = models.DateField(null=True)
    missing = exact_quantity_column(default=0)
    first_quantity = quantity_column(null=True)
    net = amount_column()
    discount_share = amount_column()
    tax_category = models.CharField(max_length=20)

    class Meta:
        ordering = ["order_id", "position"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(quantity__gte=0), name="order_line_quantity_not_negative"
            )
        ]


class Outlook(models.Model):
    """The day of a line is another than was promised: what the newest figures of stock say, until somebody decides.

    ``leaves_on`` None: nobody knows a day any more.
    """

    order_line = models.OneToOneField(OrderLine, on_delete=models.CASCADE, related_name="outlook")
    leaves_on = models.DateField(null=True)
    arrives_on = models.DateField(null=True)
    since = models.DateTimeField()


class OutlookDue(models.Model):
    """An item whose orders are to be looked at anew, since it was told: up to which line they were.

    ``again``: it was told once more meanwhile.
    """

    item = models.OneToOneField(Item, on_delete=models.CASCADE, related_name="+")
    after_line = models.BigIntegerField(default=0)
    again = models.BooleanField(default=False)


class OrderSignOff(models.Model):
    """Another person's approval of an order that something holds, for exactly what was asked.

    ``mark`` is of the order as it was seen; ``reasons`` what held it: the customer on Halt, limits exceeded.
    """

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="sign_offs")
    mark = models.CharField(max_length=64)
    reason = models.CharField(max_length=500)
    reasons = models.JSONField(default=list)
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    asked_at = models.DateTimeField()
    answer = models.CharField(max_length=7, blank=True)
    answered_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    answered_at = models.DateTimeField(null=True)
    comment = models.CharField(max_length=500, blank=True)
    open_mark = models.GeneratedField(
        expression=models.Case(models.When(answer="", then=models.F("mark"))),
        output_field=models.CharField(max_length=64, null=True),
        db_persist=True,
    )

    class Meta:
        constraints = [
            one_of("answer", ("", "granted", "refused"), "order_sign_off_answer_known"),
            models.UniqueConstraint(
                fields=["order", "open_mark"], name="order_sign_off_asked_once"
            ),
        ]
        indexes = [models.Index(fields=["answer"], name="order_sign_off_open")]


class Delivery(models.Model):
    """Goods that left for a customer, in whole or in part."""

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="deliveries")
    number = models.CharField(max_length=30, unique=True)
    on = models.DateField()


class DeliveryLine(models.Model):
    """How much of an order line left; in the order line's unit."""

    delivery = models.ForeignKey(Delivery, on_delete=models.CASCADE, related_name="lines")
    order_line = models.ForeignKey(
        OrderLine, on_delete=models.PROTECT, related_name="delivery_lines"
    )
    quantity = quantity_column()

    class Meta:
        constraints = [
            positive("quantity", "delivery_quantity_positive"),
            models.UniqueConstraint(fields=["delivery", "order_line"], name="delivery_line_once"),
        ]


class Return(models.Model):
    """Goods of an order that came back, and why."""

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="returns")
    number = models.CharField(max_length=30, unique=True)
    on = models.DateField()
    reason = models.CharField(max_length=300, blank=True)


class ReturnLine(models.Model):
    """How much of an order line came back; in the order line's unit."""

    back = models.ForeignKey(Return, on_delete=models.CASCADE, related_name="lines")
    order_line = models.ForeignKey(OrderLine, on_delete=models.PROTECT, related_name="return_lines")
    quantity = quantity_column()

    class Meta:
        constraints = [
            positive("quantity", "return_quantity_positive"),
            models.UniqueConstraint(fields=["back", "order_line"], name="return_line_once"),
        ]
