"""A lead becomes a customer, a contact and a deal, as far as they are wanted; what is known already is taken."""

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from apps.customers.flows import add_contact, add_customer
from apps.customers.models import Contact, Customer
from apps.deals.flows import add_deal
from apps.deals.models import Deal
from apps.diary.flows import Noted, add_activity
from apps.diary.models import FOLLOW_UP, NOTE, Activity
from apps.errors import Invalid
from apps.journal.flows import record_changes
from apps.leads.flows import own_lead, save
from apps.leads.models import OPEN, QUALIFIED, Lead
from apps.people.access import owned, pick
from apps.people.models import User


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """What a lead becomes: each part optional; a contact and a deal are a customer's.

    A customer by its key or, new, by name; a contact likewise; a deal by its title, with the day of its decision.
    """

    customer_id: int | None = None
    new_customer: str = ""
    contact_id: int | None = None
    new_contact: str = ""
    deal: str = ""
    decision_on: date | None = None
    estimate: Decimal = Decimal(0)


@transaction.atomic
def qualify(
    who: User, lead_id: int, version: int, wanted: Wanted, *, today: date, now: datetime
) -> Lead:
    """All of it, or nothing; what was written on the lead goes along and stays readable on it."""
    lead = own_lead(who, lead_id, version)
    customer = _customer(who, lead, wanted)
    if customer is None and (
        wanted.contact_id or wanted.new_contact.strip() or wanted.deal.strip()
    ):
        raise Invalid("required", path="customer", facts={"what": "customer_of_lead"})
    contact = _contact(who, lead, customer, wanted) if customer else None
    deal = _deal(who, lead, customer, contact, wanted, today) if customer else None
    lead.customer, lead.contact, lead.deal = customer, contact, deal
    lead.state, lead.closed_at = QUALIFIED, now
    if customer:
        _carry_over(who, lead, customer, deal)
    save(lead)
    record_changes(who, "lead", lead.pk, {"state": (OPEN, QUALIFIED)})
    return lead


def _customer(who: User, lead: Lead, wanted: Wanted) -> Customer | None:
    if wanted.customer_id:
        return pick(Customer.objects.active().filter(owned(who)), wanted.customer_id, "customer")
    if wanted.new_customer.strip():
        return add_customer(who, name=wanted.new_customer, owner_id=lead.owner_id)
    return None


def _contact(who: User, lead: Lead, customer: Customer, wanted: Wanted) -> Contact | None:
    if wanted.contact_id:
        return pick(Contact.objects.filter(customer=customer), wanted.contact_id, "contact")
    if wanted.new_contact.strip():
        return add_contact(
            who, customer.pk, name=wanted.new_contact, email=lead.email, phone=lead.phone
        )
    return None


def _deal(
    who: User, lead: Lead, customer: Customer, contact: Contact | None, wanted: Wanted, today: date
) -> Deal | None:
    if not wanted.deal.strip():
        return None
    if wanted.decision_on is None:
        raise Invalid("required", path="decision_on")
    return add_deal(
        who,
        today=today,
        title=wanted.deal,
        decision_on=wanted.decision_on,
        customer_id=customer.pk,
        contact_id=contact.pk if contact else None,
        estimate=wanted.estimate,
        owner_id=lead.owner_id,
    )


def _carry_over(who: User, lead: Lead, customer: Customer, deal: Deal | None) -> None:
    """What was needed and noted, under whoever wrote it and when; the next step as a follow-up."""
    notes = list(lead.notes.order_by("at", "pk"))
    told = [(lead.owner_id, lead.created_at, lead.need)] if lead.need else []
    told += [(note.who_id, note.at, note.text) for note in notes]
    made = Activity.objects.bulk_create(
        Activity(kind=NOTE, customer=customer, deal=deal, owner_id=owner, text=text)
        for owner, _, text in told
    )
    for activity, (_, at, _) in zip(made, told, strict=True):
        activity.created_at = at
        activity.day = timezone.localdate(at)
    Activity.objects.bulk_update(made, ["created_at", "day"])
    if lead.next_step and lead.next_on:
        noted = Noted(
            kind=FOLLOW_UP,
            text=lead.next_step,
            deal_id=deal.pk if deal else None,
            customer_id=None if deal else customer.pk,
            due_on=lead.next_on,
        )
        add_activity(who, noted)
