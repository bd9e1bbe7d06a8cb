"""Where a mail stands: on the page of what it is about, opened there."""

from apps.mail.about import narrowest
from apps.mail.models import Message, Received

PLACES = {
    "quote": "/quotes/{}",
    "order": "/orders/{}",
    "invoice": "/invoices/{}",
    "deal": "/deals/{}",
    "customer": "/customers/{}",
}


def stands_at(row: Message | Received) -> str:
    """At the narrowest record that it is about."""
    kind, record = narrowest(row)
    return PLACES[kind].format(record) + _mark(row)


def stands_at_customer(row: Message | Received) -> str:
    """At its customer, whatever it is about."""
    return PLACES["customer"].format(row.customer_id) + _mark(row)


def _mark(row: Message | Received) -> str:
    """Both ways are counted by themselves."""
    return f"#mail-{'in' if isinstance(row, Received) else 'out'}-{row.pk}"
