"""Making a buyer's address, opening it, and what becomes of what the buyer said."""

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from decimal import Decimal
import hashlib
import secrets

from django.db import transaction
from django.db.models import F
from django.db.models.functions import Coalesce

from apps.buyers.models import ACCEPTS, ASKS, DECLINED, NEW, TAKEN, BuyerAnswer, BuyerLink
from apps.errors import FlowError, Invalid, Refused, TooMany
from apps.journal.audit import note
from apps.journal.flows import record_changes
from apps.journal.models import AuditLine
from apps.orders.flows import Plan, Source, plan_for_buyer, write_order
from apps.orders.models import Order
from apps.orders.offers import Want, offer_of, usual_wants
from apps.people.access import owned, pick_locked, sells
from apps.people.models import User
from apps.quotes.models import Revision
from apps.quotes.seen import Seen
from apps.quotes.state import lock_revision, require
from routecore.casefile.words import plain
from routecore.money import minor_digits

TOKEN_BYTES = 32
#: Wrong addresses that one place may try within so long.
WINDOW, MOST_MISSES = timedelta(minutes=15), 20
MOST_ANSWERS = 50


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """What the buyer takes: by key of a line how much; None for all that is left of it."""

    lines: Mapping[str, Decimal | None]

    def wants(self) -> tuple[Want, ...]:
        """The same as an order takes it; what is nothing is left out."""
        return tuple(
            Want(key=key, quantity=quantity)
            for key, quantity in self.lines.items()
            if quantity is None or quantity > 0
        )


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


@transaction.atomic
def make_link(
    who: User, revision_id: int, *, quantities: bool, today: date, now: datetime
) -> tuple[BuyerLink, str]:
    """A new address for an issued revision that can be ordered; the one before ends. The token is told once."""
    sells(who)
    revision = lock_revision(who, revision_id)
    require("accept", revision, today)
    revision.links.filter(revoked_at=None).update(revoked_at=now)
    token = secrets.token_urlsafe(TOKEN_BYTES)
    made = BuyerLink.objects.create(
        revision=revision,
        token_hash=_hash(token),
        quantities=quantities,
        made_by=who,
        made_at=now,
    )
    record_changes(who, "quote", revision.quote_id, {"buyer's address": ("", revision.letter)})
    return made, token


@transaction.atomic
def revoke_link(who: User, link_id: int, *, now: datetime) -> BuyerLink:
    """The address ends at once."""
    sells(who)
    mine = BuyerLink.objects.filter(owned(who, "revision__quote__owner"))
    link = pick_locked(mine, link_id, "link")
    if link.revoked_at is None:
        link.revoked_at = now
        link.save(update_fields=["revoked_at"])
        quote = link.revision.quote_id
        record_changes(who, "quote", quote, {"buyer's address": (link.revision.letter, "")})
    return link


def open_link(
    token: str, address: str, *, today: date, now: datetime, reads: bool
) -> BuyerLink | None:
    """The address of a token, while it holds; None for one that was guessed, ended, or whose quote lapsed.

    All of these look alike. Who misses too often from one place is put off (``TooMany``).
    """
    missed = AuditLine.objects.filter(what="link_missed", address=address, at__gt=now - WINDOW)
    if missed.count() >= MOST_MISSES:
        raise TooMany("wait", facts={"seconds": int(WINDOW.total_seconds())})
    rows = BuyerLink.objects.select_related(
        "revision__quote__customer", "revision__quote__owner", "revision__quote__contact"
    )
    link = rows.filter(token_hash=_hash(token), revoked_at=None).first()
    if link is None or not _holds(link, today):
        note("link_missed", address=address)
        return None
    if reads:
        BuyerLink.objects.filter(pk=link.pk).update(
            opened=F("opened") + 1, opened_last=now, opened_first=Coalesce("opened_first", now)
        )
    return link


def _holds(link: BuyerLink, today: date) -> bool:
    """Until the quote lapses or is revised; once it was ordered from here, as long as there is the order."""
    if link.answers.filter(state=TAKEN).exists():
        return True
    return is_open(link.revision, today)


def is_open(revision: Revision, today: date) -> bool:
    """Whether the revision can be said yes to."""
    try:
        require("accept", revision, today)
    except FlowError:
        return False
    return True


def usual_choice(revision: Revision) -> Choice:
    """All that counts and is left."""
    return Choice(lines={want.key: None for want in usual_wants(offer_of(revision))})


def plan_of(link: BuyerLink, choice: Choice, *, today: date) -> Plan:
    """What the choice comes to, priced by the core. More than was offered only where the rep lets them change it."""
    source = Source(revision_id=link.revision_id, wants=choice.wants())
    return plan_for_buyer(link.revision, source, today=today, beyond=link.quantities)


@transaction.atomic
def say_yes(
    link: BuyerLink,
    choice: Choice,
    *,
    name: str,
    reference: str,
    seen: Seen,
    address: str,
    today: date,
    now: datetime,
) -> BuyerAnswer:
    """The buyer accepts exactly what was seen. Kept with name, moment, place and revision; the rep decides."""
    if not name.strip():
        raise Invalid("required", path="name", facts={"what": "name"})
    BuyerLink.objects.select_for_update().get(pk=link.pk)
    if link.answers.filter(kind=ACCEPTS, state=NEW).exists():
        raise Refused("said_already")
    plan = plan_of(link, choice, today=today)
    payable = plain(plan.totals.payable, minor_digits(link.revision.currency)) or ""
    if (seen.mark, seen.payable) != (plan.mark, payable):
        raise Refused("changed_unseen")
    return _said(
        link,
        BuyerAnswer(
            kind=ACCEPTS,
            name=name.strip(),
            reference=reference.strip(),
            lines=[
                {"key": row.line.row.key, "quantity": plain(row.quantity)}
                for take in plan.takes
                for row in take.rows
            ],
            mark=plan.mark,
            payable=plan.totals.payable,
            at=now,
            address=address,
        ),
    )


@transaction.atomic
def ask_for_change(
    link: BuyerLink, *, name: str, words: str, address: str, now: datetime
) -> BuyerAnswer:
    """The buyer says what should be otherwise."""
    for path, value in (("name", name), ("words", words)):
        if not value.strip():
            raise Invalid("required", path=path, facts={"what": path})
    answer = BuyerAnswer(kind=ASKS, name=name.strip(), words=words.strip(), at=now, address=address)
    return _said(link, answer)


def _said(link: BuyerLink, answer: BuyerAnswer) -> BuyerAnswer:
    if link.answers.count() >= MOST_ANSWERS:
        raise TooMany("wait", facts={"seconds": 3600})
    answer.link = link
    answer.save()
    field = f"revision {link.revision.letter}: the buyer"
    record_changes(None, "quote", link.revision.quote_id, {field: ("", answer.kind)}, answer.name)
    return answer


@transaction.atomic
def take_yes(who: User, answer_id: int, *, close_deal: bool, today: date, now: datetime) -> Order:
    """Write the order that the buyer said yes to: those lines, for that total, with their number."""
    sells(who)
    answer = _decide(who, answer_id)
    if answer.kind != ACCEPTS:
        raise Refused("nothing_accepted")
    revision = answer.link.revision
    digits = minor_digits(revision.currency)
    order = write_order(
        who,
        revision.pk,
        revision.version,
        today=today,
        now=now,
        close_deal=close_deal,
        buyer_reference=answer.reference,
        wants=[Want(key=row["key"], quantity=Decimal(row["quantity"])) for row in answer.lines],
        beyond=answer.link.quantities,
        seen=Seen(mark=answer.mark, payable=plain(answer.payable, digits) or ""),
    )
    answer.state, answer.order, answer.decided_by, answer.decided_at = TAKEN, order, who, now
    answer.save()
    return order


@contextmanager
def taking_otherwise(who: User, answer_id: int | None, now: datetime) -> Iterator[list[Order]]:
    """Around the writing of an order that the rep looked at first: what the buyer said is taken with it.

    The order goes into the list that is given. In one transaction; raises ``Invalid`` where it is of another offer.
    Without an answer it is nothing.
    """
    written: list[Order] = []
    if answer_id is None:
        yield written
        return
    with transaction.atomic():
        answer = _decide(who, answer_id)
        yield written
        order = written[0]
        if not order.acceptances.filter(revision=answer.link.revision_id).exists():
            raise Invalid("of_another_offer", path="answer_id")
        answer.state, answer.order, answer.decided_by, answer.decided_at = TAKEN, order, who, now
        answer.save()


@transaction.atomic
def decline(who: User, answer_id: int, *, reply: str, now: datetime) -> BuyerAnswer:
    """Not like this, or done otherwise; the buyer reads the reply at the address."""
    sells(who)
    answer = _decide(who, answer_id)
    if not reply.strip():
        raise Invalid("required", path="reply", facts={"what": "reply"})
    answer.state, answer.reply, answer.decided_by, answer.decided_at = (
        DECLINED,
        reply.strip(),
        who,
        now,
    )
    answer.save()
    field = f"revision {answer.link.revision.letter}: the buyer"
    quote = answer.link.revision.quote_id
    record_changes(who, "quote", quote, {field: (answer.kind, DECLINED)}, answer.reply[:200])
    return answer


def _decide(who: User, answer_id: int) -> BuyerAnswer:
    mine = BuyerAnswer.objects.filter(owned(who, "link__revision__quote__owner"))
    answer = pick_locked(mine.select_related("link__revision"), answer_id, "answer")
    if answer.state != NEW:
        raise Refused("answered")
    return answer
