"""Making and moving deals."""

from collections.abc import Mapping
from datetime import date, datetime
from decimal import Decimal

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from apps.customers.flows import add_contact, add_customer
from apps.customers.models import Contact, Customer
from apps.deals.models import OPEN, QUOTED_STAGE, WON, Deal, Reason, Stage
from apps.errors import Invalid, check_version
from apps.journal.flows import record_changes
from apps.journal.models import Change
from apps.people.access import new_owner, owned, pick, pick_locked, sells
from apps.people.models import User

#: What a deal's journal follows.
WATCHED = (
    "stage",
    "decision",
    "estimate",
    "probability",
    "confidence",
    "title",
    "owner",
    "contact",
    "needs",
    "rivals",
    "reason",
    "lost_to",
)


@transaction.atomic
def add_deal(
    who: User,
    *,
    today: date,
    title: str,
    decision_on: date,
    customer_id: int | None = None,
    new_customer: str = "",
    contact_id: int | None = None,
    new_contact: str = "",
    contact_email: str = "",
    contact_phone: str = "",
    estimate: Decimal = Decimal(0),
    stage: str = "",
    confidence: str = "likely",
    owner_id: int | None = None,
) -> Deal:
    """A new deal, with its customer and contact made in the same act where they are new."""
    sells(who)
    title = " ".join(title.split())
    if not title:
        raise Invalid("required", path="title")
    if decision_on < today:
        raise Invalid("date_gone_by", path="decision_on")
    customer = _customer(who, customer_id, new_customer, owner_id)
    contact = _contact(who, customer, contact_id, new_contact, contact_email, contact_phone)
    deal = Deal.objects.create(
        title=title,
        customer=customer,
        contact=contact,
        owner=new_owner(who, owner_id),
        stage=_stage(stage),
        estimate=estimate,
        decision_on=decision_on,
        confidence=confidence,
    )
    record_changes(who, "deal", deal.pk, {"stage": ("", deal.stage.name)})
    return deal


def _customer(who: User, known: int | None, new: str, owner_id: int | None) -> Customer:
    if known:
        return pick(Customer.objects.active().filter(owned(who)), known, "customer")
    if new.strip():
        return add_customer(who, name=new, owner_id=owner_id)
    raise Invalid("required", path="customer")


def _contact(
    who: User, customer: Customer, contact_id: int | None, name: str, email: str, phone: str
) -> Contact | None:
    if contact_id:
        return pick(Contact.objects.filter(customer=customer), contact_id, "contact")
    if name.strip():
        return add_contact(who, customer.pk, name=name, email=email, phone=phone)
    return None


def _stage(code: str, deal: Deal | None = None) -> Stage:
    """The stage; a retired one only where it stood there before its last move, which is taken back."""
    stages = Stage.objects.order_by("position")
    entered = stages.filter(retired=False)
    if deal is not None:
        last = Change.objects.filter(what="deal", record=deal.pk, field="stage").order_by("-pk")
        before = last.values_list("before", flat=True).first()
        entered = stages.filter(Q(retired=False) | Q(name=before or ""))
    stage = entered.filter(code=code).first() if code else entered.filter(outcome=OPEN).first()
    if stage is None:
        raise Invalid("unknown_stage", path="stage", facts={"code": code})
    return stage


@transaction.atomic
def change_deal(
    who: User,
    deal_id: int,
    version: int | None,
    *,
    now: datetime,
    reason: str = "",
    **changes: object,
) -> Deal:
    """Change fields of a deal; ``changes`` holds only what the caller gave. Without a ``version`` as it stands now.

    Knows ``title``, ``stage``, ``decision_on``, ``estimate``, ``probability`` (None takes the
    stage's), ``probability_reason``, ``confidence``, ``contact_id``, ``owner_id``, ``needs``, ``rivals``; of a closed
    deal ``reason_id``, ``reason_note``, ``lost_to``, which go with it when it is opened again. What stands there already is not stored again, whatever the version: the answer to that change was lost.
    """
    sells(who)
    rows = Deal.objects.filter(owned(who)).select_related("stage", "customer", "reason")
    deal = pick_locked(rows, deal_id, "deal")
    if version is not None:
        if deal.version != version and changes and _stands(deal, changes):
            return deal
        check_version(deal.version, version, "deal")
    day = changes.get("decision_on")
    if isinstance(day, date) and day != deal.decision_on and day < timezone.localdate(now):
        _require_back(deal, day)
    before = _watched(deal)
    _apply(who, deal, changes, now)
    deal.version += 1
    deal.save()
    after = _watched(deal)
    record_changes(
        who, "deal", deal.pk, {field: (before[field], after[field]) for field in before}, reason
    )
    return deal


def _require_back(deal: Deal, day: date) -> None:
    """A day that has gone by is taken only to take back the last move: it was the deal's before."""
    last = Change.objects.filter(what="deal", record=deal.pk, field="decision").order_by("-pk")
    if last.values_list("before", flat=True).first() != str(day):
        raise Invalid("date_gone_by", path="decision_on")


def _stands(deal: Deal, changes: Mapping[str, object]) -> bool:
    """Whether the deal says all of this already."""
    now: dict[str, object] = {
        "title": deal.title,
        "stage": deal.stage.code,
        "decision_on": deal.decision_on,
        "estimate": deal.estimate,
        "confidence": deal.confidence,
        "probability": deal.own_probability_percent,
        "probability_reason": deal.probability_reason,
        "contact_id": deal.contact_id,
        "owner_id": deal.owner_id,
        "needs": deal.needs,
        "rivals": deal.rivals,
        "reason_id": deal.reason_id,
        "reason_note": deal.reason_note,
        "lost_to": deal.lost_to,
    }
    return all(field in now and now[field] == value for field, value in changes.items())


def _watched(deal: Deal) -> dict[str, object]:
    values = (
        deal.stage.name,
        deal.decision_on,
        deal.estimate.normalize(),
        deal.own_probability_percent.normalize() if deal.own_probability_percent else None,
        deal.confidence,
        deal.title,
        deal.owner_id,
        deal.contact_id,
        deal.needs,
        deal.rivals,
        ": ".join(
            part for part in (deal.reason.name if deal.reason else "", deal.reason_note) if part
        ),
        deal.lost_to,
    )
    return dict(zip(WATCHED, values, strict=True))


def _apply(who: User, deal: Deal, changes: dict[str, object], now: datetime) -> None:
    # The stage first: whether a reason is asked for, and of which list, follows from it.
    for field, value in sorted(changes.items(), key=lambda each: each[0] != "stage"):
        match field, value:
            case "title", str():
                deal.title = " ".join(value.split()) or deal.title
            case "stage", str():
                _enter(deal, _stage(value, deal), now)
            case ("decision_on", date()) | ("estimate", Decimal()) | ("confidence", str()):
                setattr(deal, field, value)
            case "probability", None | Decimal():
                _own_probability(deal, value, str(changes.get("probability_reason") or ""))
            case "contact_id", None:
                deal.contact = None
            case "contact_id", int():
                deal.contact = pick(
                    Contact.objects.filter(customer=deal.customer), value, "contact"
                )
            case "owner_id", int():
                deal.owner = new_owner(who, value)
                # Whose deal it is is not of its team as well.
                deal.helpers.filter(person=deal.owner).delete()
            case (("needs" | "rivals" | "lost_to" | "reason_note"), str()):
                setattr(deal, field, value.strip())
            case "reason_id", None | int():
                deal.reason = _reason(deal, value)
            case "probability_reason", _:
                pass
            case _:
                raise Invalid("unknown_field", path=field, facts={"field": field})


def _own_probability(deal: Deal, percent: Decimal | None, reason: str) -> None:
    if percent is not None and not reason.strip():
        raise Invalid("reason_needed", path="probability_reason")
    deal.own_probability_percent = percent
    deal.probability_reason = reason.strip()


def _reason(deal: Deal, reason_id: int | None) -> Reason | None:
    """One of the list of what became of the deal."""
    if reason_id is None or reason_id == deal.reason_id:
        return deal.reason if reason_id else None
    return pick(
        Reason.objects.filter(outcome=deal.stage.outcome, retired=False), reason_id, "reason"
    )


def _enter(deal: Deal, stage: Stage, now: datetime) -> None:
    if stage.outcome != deal.stage.outcome:
        deal.reason, deal.reason_note, deal.lost_to = None, "", ""
    if stage.outcome == OPEN:
        deal.closed_at = None
    elif deal.stage.outcome == OPEN:
        deal.closed_at = now
    deal.stage = stage


def follow_quote(who: User, deal_id: int, base_net: Decimal, reason: str = "quote issued") -> None:
    """A quote was issued, or chosen: the deal's amount follows it, and its stage is at least Quoted.

    Runs inside the quote's transaction.
    """
    deal = pick_locked(Deal.objects.select_related("stage"), deal_id, "deal")
    quoted = Stage.objects.filter(code=QUOTED_STAGE, retired=False).first()
    changes: dict[str, tuple[object, object]] = {"amount": (deal.quoted_amount, base_net)}
    if quoted and deal.stage.outcome == OPEN and deal.stage.position < quoted.position:
        changes["stage"] = (deal.stage.name, quoted.name)
        deal.stage = quoted
    deal.quoted_amount = base_net
    deal.version += 1
    deal.save()
    record_changes(who, "deal", deal.pk, changes, reason)


def close_as_won(who: User, deal_id: int, now: datetime) -> None:
    """The order was made and the rep chose to close the deal; inside the order's transaction."""
    deal = pick_locked(Deal.objects.select_related("stage"), deal_id, "deal")
    won = Stage.objects.filter(outcome=WON).first()
    if won is None or deal.stage.outcome != OPEN:
        return
    before = deal.stage.name
    _enter(deal, won, now)
    deal.version += 1
    deal.save()
    record_changes(who, "deal", deal.pk, {"stage": (before, won.name)}, "order made")
