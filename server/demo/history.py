"""Two and a half years of invoices and payments, with a season, by each customer's way of paying.

Behind some of the paid ones stands the whole chain from the deal on (``demo.past``).
"""

from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import Decimal
from random import Random

from apps.customers.models import Customer
from apps.customers.payment import payment_of
from apps.kept.figures import later
from apps.ledger.flows import early_of, further_terms, settle_up
from apps.ledger.models import Allocation, Invoice, Payment
from demo import habits
from demo.customers import ALL_CUSTOMERS
from demo.factories import AllocationFactory, InvoiceFactory, PaymentFactory
from demo.past import bill_past, day_rate, make_past
from routecore.money import percent_of, round_amount

HABITS = {row[0]: row[8] for row in ALL_CUSTOMERS}
#: How many days after the invoice each habit pays, and how many days late at the most.
# fmt: off
PAYS_AFTER = {"good": (18, 32), "slow": (34, 52), "late": (40, 75), "limit": (20, 40), "held": (45, 90)}
#: Invoices a month, by month: spring and harvest are busy.
SEASON = {1: 1, 2: 2, 3: 3, 4: 3, 5: 1, 6: 1, 7: 1, 8: 2, 9: 2, 10: 1, 11: 2, 12: 1}
MONTHS = 30
#: Open at the end, so that each verdict has its customer: name, gross, days since the invoice.
OPEN = [
    ("Corvale Berries", "8640.00", 4),
    ("Hazelmoor Orchards", "1180.00", 42),
    ("Hazelmoor Orchards", "3830.00", 15),
    ("Kettlewick Nursery", "2265.40", 78),
    ("Dunmere Estate", "14920.00", 71),
    ("Saltmarsh Vineyards", "4380.00", 4),
]
# fmt: on
STORIES = {name for name, _, _ in OPEN}
#: Behind so many of a hundred paid invoices stands a chain of documents.
CHAINS = 28


def make_history(customers: dict[str, Customer], today: date, random: Random) -> None:
    """Invoices back to two and a half years ago, paid as each customer pays."""
    number = 3000
    ledger = _Ledger()
    for back in range(MONTHS, -1, -1):
        month = _months_before(today, back)
        for name, customer in customers.items():
            if HABITS[name] == "new":
                continue
            for _ in range(SEASON[month.month]):
                on = month + timedelta(days=random.randrange(0, 28))
                if on > today or random.random() < 0.45:
                    continue
                number += 1
                _invoice(ledger, customer, HABITS[name], on, today, number, random)
    for name in habits.HABITS:
        for on, basket in habits.orders_of(name, today, random):
            number += 1
            ledger.regular(customers[name], on, today, number, basket)
    for name, gross, days in OPEN:
        number += 1
        customer = customers[name]
        row = InvoiceFactory.build(
            number=f"INV-{number}",
            customer=customer,
            on=today - timedelta(days=days),
            gross=Decimal(gross),
        )
        ledger.invoices.append(row)
        ledger.stories.append(row)
    with later():
        ledger.tell_past(today, random)
        ledger.write()
    settle_up(Invoice.objects.filter(early_percent__isnull=False))


@dataclass
class _Ledger:
    """What is written at the end; each allocation settles its invoice in one payment or half."""

    invoices: list[Invoice] = field(default_factory=list)
    payments: list[Payment] = field(default_factory=list)
    allocations: list[Allocation] = field(default_factory=list)
    #: What is in the orders behind some of them, by the invoice's number.
    baskets: dict[str, habits.Basket] = field(default_factory=dict)
    #: What stands open at the end.
    stories: list[Invoice] = field(default_factory=list)

    def regular(
        self, customer: Customer, on: date, today: date, number: int, basket: habits.Basket
    ) -> None:
        """An order of regulars, invoiced on a day and paid within two weeks; its sums come later."""
        invoice = InvoiceFactory.build(
            number=f"INV-{number}",
            customer=customer,
            on=on,
            due_on=payment_of(customer).last_due(on),
            gross=Decimal(1),
            base_rate=day_rate(customer.currency, on),
        )
        self.invoices.append(invoice)
        self.baskets[invoice.number] = basket
        _pay(self, invoice, min(on + timedelta(days=14), today), invoice.gross)

    def tell_past(self, today: date, random: Random) -> None:
        """Put a chain behind some of the paid invoices; what was paid is what they now come to."""
        paid = [row for row in self.allocations if row.amount == row.invoice.gross]
        chosen = [
            row
            for row in paid
            if row.invoice.number in self.baskets or random.randrange(100) < CHAINS
        ]
        make_past([row.invoice for row in chosen], self.baskets, today, random)
        for row in chosen:
            assert row.payment is not None
            row.amount = row.payment.amount = row.invoice.gross

    def take_discounts(self) -> None:
        """Who pays in parts has paid those that are due; every second who pays less if early did so.

        What stands open at the end (``OPEN``) is agreed to fall due at once.
        """
        paid = {row.invoice.number for row in self.allocations}
        for invoice in self.invoices:
            payment = payment_of(invoice.customer)
            kept = further_terms(payment, invoice.gross, invoice.currency, invoice.on)
            if invoice in self.stories:
                kept["dues"] = []
            for name, value in kept.items():
                setattr(invoice, name, value)
            if invoice.dues and invoice.number not in paid:
                _pay(self, invoice, invoice.on, Decimal(invoice.dues[0]["amount"]))
        early = [row for row in self.allocations if row.invoice.early_until]
        for row in early[::2]:
            terms = early_of(row.invoice)
            if (
                terms is None
                or not (row.payment and row.invoice.early_until)
                or row.amount != row.invoice.gross
            ):
                continue
            off = round_amount(percent_of(row.amount, terms.percent), row.invoice.currency)
            row.amount = row.payment.amount = row.invoice.gross - off
            row.payment.on = row.invoice.early_until - timedelta(days=2)

    def write(self) -> None:
        """Write all, with the lines of those invoices that bill an order."""
        self.take_discounts()
        Invoice.objects.bulk_create(self.invoices, batch_size=500)
        Payment.objects.bulk_create(self.payments, batch_size=500)
        Allocation.objects.bulk_create(self.allocations, batch_size=500)
        bill_past(self.invoices)


def _months_before(day: date, months: int) -> date:
    index = day.year * 12 + day.month - 1 - months
    return date(index // 12, index % 12 + 1, 1)


def _invoice(
    ledger: _Ledger,
    customer: Customer,
    habit: str,
    on: date,
    today: date,
    number: int,
    random: Random,
) -> None:
    gross = Decimal(random.randrange(18_000, 520_000)) / 100
    if habit == "limit":
        gross /= 4
    due = payment_of(customer).last_due(on)
    invoice = InvoiceFactory.build(
        number=f"INV-{number}",
        customer=customer,
        on=on,
        due_on=due,
        gross=gross.quantize(Decimal("0.01")),
        base_rate=day_rate(customer.currency, on),
    )
    ledger.invoices.append(invoice)
    least, most = PAYS_AFTER[habit]
    paid_on = on + timedelta(days=random.randrange(least, most))
    if customer.name in STORIES and paid_on > today > due:
        paid_on = due  # what is overdue there is told by OPEN alone
    if paid_on <= today:
        _pay(ledger, invoice, paid_on, invoice.gross)
    elif habit == "slow" and random.random() < 0.4:
        _pay(
            ledger,
            invoice,
            max(on, today - timedelta(days=3)),
            (invoice.gross / 2).quantize(Decimal("0.01")),
        )


def _pay(ledger: _Ledger, invoice: Invoice, on: date, amount: Decimal) -> None:
    payment = PaymentFactory.build(
        number=invoice.number.replace("INV", "PAY"), customer=invoice.customer, on=on, amount=amount
    )
    ledger.payments.append(payment)
    ledger.allocations.append(AllocationFactory.build(payment=payment, invoice=invoice))
