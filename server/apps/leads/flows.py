"""Leads are taken down, changed, let go and taken up again."""

from collections.abc import Mapping
from datetime import date, datetime

from django.db import transaction

from apps.errors import Invalid, Refused, check_version
from apps.journal.flows import record_changes
from apps.leads.models import DISQUALIFIED, OPEN, SOURCES, Lead, LeadNote
from apps.people.access import new_owner, owned, pick_locked, sells
from apps.people.models import User

#: What is typed on a lead, beside its owner and the day of its next step.
TEXTS = ("name", "company", "topic", "need", "email", "phone", "source", "next_step")


@transaction.atomic
def add_lead(
    who: User, *, owner_id: int | None = None, next_on: date | None = None, **texts: str
) -> Lead:
    """A new lead: a name or a company, and whatever else is known (``TEXTS``)."""
    sells(who)
    lead = Lead(owner=new_owner(who, owner_id), next_on=next_on, **_clean(texts))
    _check(lead)
    lead.save()
    record_changes(who, "lead", lead.pk, {"state": ("", OPEN)})
    return lead


@transaction.atomic
def change_lead(who: User, lead_id: int, version: int, **changes: object) -> Lead:
    """Change what is given of an open lead: ``TEXTS``, ``next_on``, ``owner_id``."""
    lead = own_lead(who, lead_id, version)
    before = _watched(lead)
    texts = {name: value for name, value in changes.items() if name in TEXTS}
    for name, value in _clean({name: str(value) for name, value in texts.items()}).items():
        setattr(lead, name, value)
    if "next_on" in changes:
        day = changes["next_on"]
        lead.next_on = day if isinstance(day, date) else None
    if isinstance(owner := changes.get("owner_id"), int):
        lead.owner = new_owner(who, owner)
    _check(lead)
    save(lead)
    after = _watched(lead)
    record_changes(who, "lead", lead.pk, {name: (before[name], after[name]) for name in before})
    return lead


@transaction.atomic
def note_on_lead(who: User, lead_id: int, text: str, *, now: datetime) -> LeadNote:
    """Write something down; on a lead that became something, it is written there instead."""
    sells(who)
    lead = pick_locked(Lead.objects.filter(owned(who)), lead_id, "lead")
    if lead.customer_id:
        raise Refused("lead_closed", facts={"what": lead.state})
    text = text.strip()
    if not text:
        raise Invalid("required", path="text", facts={"what": "activity"})
    return LeadNote.objects.create(lead=lead, who=who, text=text, at=now)


@transaction.atomic
def disqualify(who: User, lead_id: int, version: int, *, reason: str, now: datetime) -> Lead:
    """Nothing comes of it, for a reason."""
    lead = own_lead(who, lead_id, version)
    reason = " ".join(reason.split())
    if not reason:
        raise Invalid("reason_needed", path="reason")
    lead.state, lead.reason, lead.closed_at = DISQUALIFIED, reason, now
    save(lead)
    record_changes(who, "lead", lead.pk, {"state": (OPEN, DISQUALIFIED)}, reason)
    return lead


@transaction.atomic
def reopen(who: User, lead_id: int, version: int) -> Lead:
    """Something may come of it after all; not of one that became a customer."""
    sells(who)
    lead = pick_locked(Lead.objects.filter(owned(who)), lead_id, "lead")
    check_version(lead.version, version, "lead")
    if lead.customer_id or lead.state == OPEN:
        raise Refused("lead_closed", facts={"what": lead.state})
    before = lead.state
    lead.state, lead.reason, lead.closed_at = OPEN, "", None
    save(lead)
    record_changes(who, "lead", lead.pk, {"state": (before, OPEN)})
    return lead


def own_lead(who: User, lead_id: int, version: int) -> Lead:
    """An open lead of this person's, locked, in the version that was seen."""
    sells(who)
    lead = pick_locked(Lead.objects.filter(owned(who)).select_related("owner"), lead_id, "lead")
    check_version(lead.version, version, "lead")
    if lead.state != OPEN:
        raise Refused("lead_closed", facts={"what": lead.state})
    return lead


def save(lead: Lead) -> None:
    """Store it under its next version."""
    lead.version += 1
    lead.save()


def _clean(texts: Mapping[str, str]) -> dict[str, str]:
    return {
        name: text.strip() if name == "need" else " ".join(text.split())
        for name, text in texts.items()
    }


def _check(lead: Lead) -> None:
    if not lead.name and not lead.company:
        raise Invalid("required", path="name", facts={"what": "lead"})
    if lead.source not in SOURCES:
        raise Invalid("unknown_choice", path="source", facts={"value": lead.source})


def _watched(lead: Lead) -> dict[str, object]:
    return {
        **{name: getattr(lead, name) for name in TEXTS},
        "next_on": lead.next_on,
        "owner": lead.owner_id,
    }
