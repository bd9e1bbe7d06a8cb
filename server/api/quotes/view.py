"""A revision as the quote desk shows it."""

from datetime import date
from decimal import Decimal
from typing import Any, cast

from django.conf import settings

from api.catalogue import ItemOut, item_out
from api.deals import contacts_out
from api.quotes.priced import PricedOut, ProblemOut
from api.quotes.shapes import (
    Answer,
    ChargeOut,
    ChecksOut,
    DeskLine,
    ExcessOut,
    MoreTermsOut,
    OrderMark,
    QuoteOut,
    RevisionMark,
    SignOffOut,
    addresses_to_choose,
)
from api.routes import route_out
from api.shapes import money, sure_money, today
from api.standing import StandingOut, WeightOut, standing_out, standings_now
from apps.catalogue.models import Item, TaxCategory
from apps.catalogue.queries import rate_on, unit_names
from apps.customers.addresses import usual_address
from apps.customers.models import Customer
from apps.customers.payment import payment_of
from apps.orders.models import Order
from apps.papers.words import ENGLISH
from apps.people.models import User
from apps.prices.queries import source_names
from apps.quotes.flows.signing import sign_off_of
from apps.quotes.models import Quote, QuoteLine, Revision
from apps.quotes.pricing.problems import facts_of
from apps.quotes.pricing.sight import excesses_for, priced_for
from apps.quotes.pricing.verdicts import Checks, checks_of
from apps.quotes.queries import own_revision
from apps.quotes.seen import mark_of
from apps.quotes.state import Facts, can_still_be_ordered, last_day, state_of
from apps.route.queries import route_of_quote
from routecore.casefile.words import plain
from routecore.money import Money, minor_digits


def shown(priced: dict[str, Any], person: User) -> PricedOut:
    """The stored answer, without cost and margin for those who may not see them."""
    return cast("PricedOut", priced_for(person, priced))


def problems_of(revision: Revision) -> list[ProblemOut]:
    """The core's problems with the facts that their words need."""
    return problems_in(revision.priced)


def problems_in(priced: dict[str, Any]) -> list[ProblemOut]:
    """The problems of an answer, with the facts that their words need."""
    return [
        ProblemOut(code=problem["code"], line=problem["line"], facts=facts_of(problem))
        for problem in priced["problems"]
    ]


def _excesses(revision: Revision, person: User) -> list[ExcessOut]:
    return [
        ExcessOut.model_validate(row) for row in excesses_for(person, revision.priced["excesses"])
    ]


def sign_off_out(revision: Revision) -> SignOffOut | None:
    """The newest sign-off for the revision as it stands; None where nobody asked."""
    row = sign_off_of(revision)
    if row is None:
        return None
    return SignOffOut(
        id=row.pk,
        answer=row.answer,
        reason=row.reason,
        asked_by=row.asked_by.name,
        asked_at=row.asked_at,
        answered_by=row.answered_by.name if row.answered_by else "",
        comment=row.comment,
    )


def _desk_line(row: QuoteLine, item: ItemOut | None) -> DeskLine:
    return DeskLine(
        key=row.key,
        kind=row.kind,
        alternative_to=row.alternative_to,
        item=item,
        text=row.text,
        quantity=plain(row.quantity) or "",
        unit=row.unit,
        price=plain(row.typed_price),
        price_reason=row.price_reason,
        discount_percent=plain(row.discount_percent),
        discount_amount=plain(row.discount_amount, 2),
        depot_id=row.depot_id,
        wanted_on=row.wanted_on,
    )


def _standing(revision: Revision, on: date, ordered: bool) -> tuple[StandingOut, WeightOut]:
    """An order counts in the exposure already; a quote is added to it."""
    base, currency = settings.BASE_CURRENCY, revision.currency
    rate = revision.base_rate or rate_on(currency, on)
    weighs = Money(revision.payable, currency).converted(rate, base).amount
    extra = Decimal(0) if ordered else weighs
    customer = revision.quote.customer
    found = standings_now([customer], on, extra)[customer.pk]
    afters = [after for after in (found.after, found.group_after) if after is not None]
    left = min(afters, default=None)
    back = None if left is None else Money(left, base).converted_back(rate, currency).amount
    return standing_out(found), WeightOut(
        currency=currency,
        payable=sure_money(revision.payable, currency),
        rate=plain(rate) or "1",
        base_currency=base,
        base_payable=sure_money(weighs, base),
        base_left=money(left, base),
        left=money(back, currency),
    )


def quote_out(person: User, revision_id: int) -> QuoteOut:
    """A revision as the desk shows it; a constant number of queries."""
    on = today()
    revision = own_revision(person, revision_id)
    quote, signing, names = revision.quote, sign_off_out(revision), unit_names()
    marks = list(quote.revisions.defer("priced", "case").order_by("pk"))
    orders = list(Order.objects.filter(acceptances__revision__quote=quote).order_by("pk"))
    standing, weight = _standing(revision, on, bool(orders))
    newest = marks[-1].pk == revision.pk
    state = state_of(_facts(revision, newest=newest), on)
    return QuoteOut(
        id=revision.pk,
        version=revision.version,
        letter=revision.letter,
        state=state,
        newest=newest,
        days_left=(last_day(revision) - on).days,
        unit_names=names,
        **_of_quote(quote),
        **_of_customer(quote.customer, quote.contact_id),
        **_terms(revision),
        lines=_desk_lines(revision, names),
        excesses=_excesses(revision, person),
        sign_off=signing,
        checks=_checks(person, revision, state, signing, on),
        may_sign=person.role in ("lead", "admin") and quote.owner_id != person.pk,
        priced=shown(revision.priced, person),
        problems=problems_of(revision),
        margin_floor=str(settings.MARGIN_FLOOR_PERCENT) if person.sees_margin else None,
        saved_at=revision.saved_at,
        issued_at=revision.issued_at,
        issued_by=revision.issued_by.name if revision.issued_by else "",
        **_ordered(orders),
        **_late(quote, person),
        revisions=[_mark(row) for row in marks],
        standing=standing,
        weight=weight,
        route=route_out(route_of_quote(quote)),
        mark=mark_of(revision),
    )


def _facts(revision: Revision, *, newest: bool) -> Facts:
    """What the state of a revision follows from."""
    quote = revision.quote
    return Facts(
        issued=revision.issued_at is not None,
        valid_until=last_day(revision) if newest else revision.valid_until,
        newest=newest,
        declined=quote.declined_at is not None,
        ordered=quote.order_pk is not None and newest,
        left=can_still_be_ordered(quote),
    )


def _ordered(orders: list[Order]) -> dict[str, Any]:
    """The orders that took something of the quote, the newest by itself."""
    marks = [
        OrderMark(id=row.pk, number=row.number, payable=sure_money(row.payable, row.currency))
        for row in orders
    ]
    return {
        "order_id": marks[-1].id if marks else None,
        "order_number": marks[-1].number if marks else "",
        "orders": marks,
    }


def _late(quote: Quote, person: User) -> dict[str, Any]:
    """What was asked and allowed of a lapsed quote, and what was said of its rest."""
    return {
        "direct": quote.direct,
        "late_reason": quote.late_reason,
        "late_asked_at": quote.late_asked_at,
        "allowed_until": quote.allowed_until,
        "allowed_by": quote.allowed_by.name if quote.allowed_by else "",
        "may_allow": person.role in ("lead", "admin"),
        "rest_closed_at": quote.rest_closed_at,
        "rest_reason": quote.rest_reason,
    }


def _of_quote(quote: Quote) -> dict[str, Any]:
    """What all revisions of a quote share."""
    return {
        "quote_id": quote.pk,
        "number": quote.number,
        "deal_id": quote.deal_id,
        "deal": quote.deal.title if quote.deal else "",
        "owner": quote.owner.name,
        "contact_id": quote.contact_id,
        "declined_at": quote.declined_at,
        "decline_reason": quote.decline_reason,
        "follow_up_days": settings.QUOTE_FOLLOW_UP_DAYS,
        "tax_categories": dict(TaxCategory.objects.values_list("code", "name")),
    }


def _of_customer(customer: Customer, contact: int | None) -> dict[str, Any]:
    """Whom the quote is for, the people there, and where goods may go."""
    places = list(customer.addresses.active().order_by("kind", "pk"))
    usual = usual_address(places)
    return {
        "customer_id": customer.pk,
        "customer": customer.name,
        "price_list": customer.price_list.name,
        "list_names": source_names(customer),
        "contacts": contacts_out(customer, contact),
        "addresses": addresses_to_choose(places),
        "country": usual.country if usual else settings.HOME_COUNTRY,
        "usual_address_id": usual.pk if usual else None,
    }


#: Terms that are told as they stand in the revision.
_AS_THEY_ARE = (
    *("on", "valid_until", "currency", "buyer_reference", "message", "paper"),
    *("terms_days", "terms_end_of_month", "requested_on", "discount_on"),
)


def _terms(revision: Revision) -> dict[str, Any]:
    payment = payment_of(revision)
    return {
        **{name: getattr(revision, name) for name in _AS_THEY_ARE},
        "digits": minor_digits(revision.currency),
        "discount_percent": plain(revision.discount_percent),
        "discount_amount": plain(revision.discount_amount, 2),
        "terms_more": MoreTermsOut(**revision.terms_more),
        "terms_words": ENGLISH.terms(payment),
        "early_yearly_rate": plain(payment.early_yearly_rate(revision.on)),
        "delivery_address_id": (revision.deliver_to or {}).get("id"),
        "charges": [ChargeOut(**row) for row in revision.charges],
    }


def _desk_lines(revision: Revision, names: dict[str, str]) -> list[DeskLine]:
    rows = list(revision.lines.all())
    items = Item.objects.filter(pk__among={row.item_id for row in rows if row.item_id})
    shapes = {
        item.pk: item_out(item, names)
        for item in items.select_related("group").prefetch_related("units")
    }
    return [_desk_line(row, shapes.get(row.item_id or 0)) for row in rows]


def _mark(row: Revision) -> RevisionMark:
    return RevisionMark(
        id=row.pk,
        letter=row.letter,
        issued_at=row.issued_at,
        payable=sure_money(row.payable, row.currency),
    )


def answer_out(person: User, row: Revision) -> Answer:
    """What a saved draft came to, with the verdicts that hang on it."""
    on = today()
    standing, weight = _standing(row, on, ordered=False)
    signing = sign_off_out(row)
    return Answer(
        id=row.pk,
        version=row.version,
        saved_at=row.saved_at,
        on=row.on,
        priced=shown(row.priced, person),
        problems=problems_of(row),
        excesses=_excesses(row, person),
        sign_off=signing,
        checks=_checks(person, row, "draft", signing, on),
        standing=standing,
        weight=weight,
        days_left=(row.valid_until - on).days,
        early_yearly_rate=plain(payment_of(row).early_yearly_rate(row.on)),
        mark=mark_of(row),
    )


def _checks(
    person: User, row: Revision, state: str, signing: SignOffOut | None, on: date
) -> ChecksOut:
    found = checks_of(
        row.priced,
        state=state,
        on=row.on,
        valid_until=last_day(row),
        today=on,
        answer=signing.answer if signing else None,
    )
    return checks_out(person, found)


def checks_out(person: User, found: Checks) -> ChecksOut:
    """The verdicts; without the margin's for those who may not see it."""
    return ChecksOut(
        prices=found.prices,
        margin=found.margin if person.sees_margin else "none",
        limits=found.limits,
        dates=found.dates,
    )
