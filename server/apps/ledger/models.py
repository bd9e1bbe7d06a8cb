"""Invoices, payments and which of them settle which."""

from django.db import models

from apps.columns import amount_column, one_of, positive, price_column, quantity_column
from apps.customers.models import Customer
from apps.orders.models import DeliveryLine, Order, OrderLine

INVOICE, CREDIT = "invoice", "credit"


class Invoice(models.Model):
    """An invoice or a credit note of the back office; ``gross`` is positive for both.

    ``base_rate`` is the rate to the base currency on its date. Kept by the database, as ``apps.ledger.kept`` declares:
    ``settled``, and how much of it was ``credited``; ``whose_id`` (its order's owner, else its customer's),
    ``customer_name``, and how many days it ``took`` from the order to it. ``dues`` are its parts (day and amount), where it falls due in
    more than one; ``due_on`` is then the last of them. ``early_percent`` is given for payment until
    ``early_until``; ``discount`` is what was given for it, written by ``apps.ledger.flows`` alone. ``change``
    is the number under which the back office told it last, below zero while it is asked for anew.
    """

    number = models.CharField(max_length=30, unique=True)
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="invoices")
    order = models.ForeignKey(Order, on_delete=models.PROTECT, null=True, related_name="invoices")
    kind = models.CharField(max_length=7, default=INVOICE)
    on = models.DateField()
    due_on = models.DateField()
    currency = models.CharField(max_length=3)
    net = amount_column()
    gross = amount_column()
    base_rate = price_column(default=1)
    dues = models.JSONField(default=list)
    early_percent = quantity_column(null=True)
    early_until = models.DateField(null=True)
    discount = amount_column(default=0)
    change = models.BigIntegerField(default=0)
    settled = amount_column(default=0, editable=False)
    credited = amount_column(default=0, editable=False)
    whose_id = models.PositiveBigIntegerField(default=0, editable=False)
    customer_name = models.CharField(max_length=120, default="", editable=False)
    took = models.IntegerField(null=True, editable=False)
    open_amount = models.GeneratedField(
        expression=models.F("gross") - models.F("settled") - models.F("discount"),
        output_field=amount_column(),
        db_persist=True,
    )

    class Meta:
        indexes = [
            models.Index(fields=["customer", "on"]),
            # All that revenue is summed and its usual lead time is counted by, of whom.
            models.Index(
                fields=["on", "whose_id", "kind", "took", "net", "base_rate"],
                name="invoice_for_the_revenue",
            ),
            # The same of one person, whose invoices lie among those of a whole house.
            models.Index(
                fields=["whose_id", "on", "kind", "took", "net", "base_rate"],
                name="invoice_of_a_person",
            ),
            *(
                models.Index(fields=[column, "id", "whose_id"], name=f"invoice_by_{name}")
                for column, name in (
                    *(("on", "day"), ("due_on", "due"), ("customer_name", "customer")),
                    *(("open_amount", "open"), ("number", "number")),
                )
            ),
            models.Index(fields=["customer", "open_amount"], name="invoice_open"),
        ]
        constraints = [
            one_of("kind", (INVOICE, CREDIT), "invoice_kind_known"),
            positive("gross", "invoice_gross_positive"),
        ]


class BilledDay(models.Model):
    """What was invoiced on a day of one person's, in the base currency, credit notes taken off.

    Kept by the database, as ``apps.ledger.kept`` declares: a year of a house is added up from some thousand rows,
    however many invoices it wrote.
    """

    on = models.DateField()
    whose_id = models.PositiveBigIntegerField()
    net = models.DecimalField(max_digits=20, decimal_places=4, db_default=0, editable=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["on", "whose_id"], name="billed_day_once"),
        ]
        indexes = [models.Index(fields=["whose_id", "on", "net"], name="billed_day_of_a_person")]


class Account(models.Model):
    """What the back office says is open of a customer, by currency, and what ours came to when that was read.

    ``checked_at`` None: to be compared (``apps.ledger.balances`` alone does). ``whole`` is what is told of all
    records that became this customer, beside ``ours``; both None where not all of them were told, and for one that
    became another. ``differs_since`` is when they began to differ.
    """

    customer = models.OneToOneField(Customer, on_delete=models.CASCADE, related_name="account")
    told = models.JSONField()
    told_at = models.DateTimeField()
    whole = models.JSONField(null=True)
    ours = models.JSONField(null=True)
    checked_at = models.DateTimeField(null=True)
    differs_since = models.DateTimeField(null=True)

    class Meta:
        indexes = [
            models.Index(fields=["checked_at"], name="account_to_check"),
            models.Index(fields=["differs_since"], name="account_differs"),
        ]


class InvoiceLine(models.Model):
    """A line of an invoice, with the order and delivery line it bills where there is one.

    ``quantity`` is in the order line's unit; None where it was not told.
    """

    invoice = models.ForeignKey(Invoice, on_delete=models.CASCADE, related_name="lines")
    order_line = models.ForeignKey(OrderLine, on_delete=models.PROTECT, null=True)
    delivery_line = models.ForeignKey(DeliveryLine, on_delete=models.PROTECT, null=True)
    text = models.CharField(max_length=200)
    quantity = quantity_column(null=True)
    net = amount_column()


class Payment(models.Model):
    """Money received. ``used`` is kept by the database, as ``apps.ledger.kept`` declares it."""

    number = models.CharField(max_length=30, unique=True)
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="payments")
    on = models.DateField()
    currency = models.CharField(max_length=3)
    amount = amount_column()
    change = models.BigIntegerField(default=0)
    used = amount_column(default=0, editable=False)
    unused = models.GeneratedField(
        expression=models.F("amount") - models.F("used"),
        output_field=amount_column(),
        db_persist=True,
    )

    class Meta:
        indexes = [
            models.Index(fields=["customer", "unused"], name="payment_unused"),
            models.Index(fields=["customer", "on"], name="payment_by_day"),
        ]
        constraints = [positive("amount", "payment_positive")]


class Allocation(models.Model):
    """The part of a payment, or of a credit note, that settles an invoice."""

    payment = models.ForeignKey(
        Payment, on_delete=models.CASCADE, null=True, related_name="allocations"
    )
    credit = models.ForeignKey(Invoice, on_delete=models.CASCADE, null=True, related_name="spent")
    invoice = models.ForeignKey(Invoice, on_delete=models.PROTECT, related_name="allocations")
    amount = amount_column()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["payment", "invoice"], name="allocation_once"),
            models.UniqueConstraint(fields=["credit", "invoice"], name="allocation_of_credit_once"),
            models.CheckConstraint(
                condition=models.Q(payment__isnull=True) ^ models.Q(credit__isnull=True),
                name="allocation_of_one",
            ),
            positive("amount", "allocation_positive"),
        ]
