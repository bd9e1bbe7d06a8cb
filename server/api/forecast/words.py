"""What people say they will win in a month: what each commits to, the lead's judgement, beside what the deals say."""

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router
from pydantic import BaseModel, Field, StringConstraints

from api.forecast.weighted import Month
from api.schemas import Schema
from api.shapes import Amount, Day, Id, sure_money, today, who
from apps.deals.queries import deals_of
from apps.errors import Invalid
from apps.forecast.models import Word
from apps.forecast.people import Person, month_of_people
from apps.forecast.words import month_over, say_word
from apps.people.access import signs_for
from apps.people.models import User
from routecore.money import round_amount

router = Router(tags=["forecast"])


class WordOut(Schema):
    """What was said, by whom and when; ``seen`` is what a newer word names."""

    seen: int
    amount: str | None
    reason: str
    who: str
    at: datetime


class PersonOut(Schema):
    """A person's month: what was won, what may be won in all, the target, and what was said."""

    id: int
    name: str
    won: str
    low: str
    middle: str
    high: str
    target: str | None
    committed: WordOut | None
    judged: WordOut | None
    may_commit: bool


class WordsOut(Schema):
    """A month of those whose deals this person sees, and together."""

    currency: str
    month: date
    people: list[PersonOut]
    committed: str
    judged: str
    may_judge: bool
    over: bool


class WordsFilters(Schema):
    """The month."""

    month: Month


@router.get("/forecast/words", response=WordsOut, operation_id="list_words")
def words(request: HttpRequest, filters: Query[WordsFilters]) -> WordsOut:
    """Who commits to what. Six queries."""
    return _words(who(request), date.fromisoformat(f"{filters.month}-01"))


class WordIn(BaseModel):
    """What is said; without an amount the last word is taken back. ``seen`` is the word that was there, 0 for none."""

    owner_id: Id
    month: Day
    amount: Amount | None
    reason: Annotated[str, StringConstraints(max_length=200)] = ""
    judged: bool = False
    seen: Annotated[int, Field(ge=0, le=9_000_000_000_000)]


@router.post("/forecast/words", response=WordsOut, operation_id="say_word")
def say(request: HttpRequest, data: WordIn) -> WordsOut:
    """Commit oneself, or judge what somebody will win; 409 where somebody said something else meanwhile."""
    if data.month.day != 1:
        raise Invalid("not_a_month", path="month")
    say_word(who(request), now=timezone.now(), **data.model_dump())
    return _words(who(request), data.month)


def _words(person: User, month: date) -> WordsOut:
    base, on = settings.BASE_CURRENCY, today()
    rows = month_of_people(person, deals_of(person), month, on)

    def sum_of(words: list[Word | None]) -> str:
        said = (word.amount or Decimal(0) for word in words if word)
        return sure_money(sum(said, Decimal(0)), base)

    return WordsOut(
        currency=base,
        month=month,
        people=[_person(person, row) for row in rows],
        committed=sum_of([row.committed for row in rows]),
        judged=sum_of([row.judged for row in rows]),
        may_judge=signs_for(person),
        over=month_over(month, on),
    )


def _person(asking: User, row: Person) -> PersonOut:
    base = settings.BASE_CURRENCY

    def money(value: Decimal) -> str:
        return sure_money(round_amount(value, base), base)

    return PersonOut(
        id=row.person.pk,
        name=row.person.name,
        won=money(row.won),
        low=money(row.reached(0.1)),
        middle=money(row.reached(0.5)),
        high=money(row.reached(0.9)),
        target=None if row.target is None else money(row.target),
        committed=_word(row.committed),
        judged=_word(row.judged),
        may_commit=row.person.pk == asking.pk,
    )


def _word(word: Word | None) -> WordOut | None:
    if word is None:
        return None
    amount = None if word.amount is None else sure_money(word.amount, settings.BASE_CURRENCY)
    return WordOut(seen=word.pk, amount=amount, reason=word.reason, who=word.who.name, at=word.at)
