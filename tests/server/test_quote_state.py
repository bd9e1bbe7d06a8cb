"""A quote has one state; what excludes each other never both happens."""

from collections.abc import Callable
from datetime import date, timedelta
from itertools import combinations_with_replacement
from threading import Barrier, Thread
from typing import Any

from django.db import connection
from django.utils import timezone
from hypothesis import settings
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule
import pytest

from apps.errors import FlowError
from apps.orders.flows import write_order
from apps.orders.models import Order
from apps.people.models import User
from apps.quotes.flows.ending import decline, discard_draft
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.signing import answer_sign_off, ask_sign_off
from apps.quotes.flows.starting import revise
from apps.quotes.models import Quote, Revision
from apps.quotes.state import ALLOWED, Facts, state_of
from tests.server.conftest import World, draft

DAY = date(2026, 11, 26)


@pytest.mark.parametrize(
    ("facts", "state"),
    [
        ({"issued": False}, "draft"),
        ({"issued": False, "asked": True}, "asked"),
        ({"issued": True}, "issued"),
        ({"issued": True, "valid_until": DAY - timedelta(days=1)}, "lapsed"),
        ({"issued": True, "newest": False}, "revised"),
        ({"issued": True, "declined": True}, "declined"),
        ({"issued": False, "declined": True}, "draft"),
        ({"issued": True, "ordered": True, "valid_until": DAY - timedelta(days=9)}, "ordered"),
    ],
)
def test_the_state_follows_from_what_is_known(facts: dict[str, Any], state: str) -> None:
    assert state_of(Facts(**{"valid_until": DAY, **facts}), DAY) == state


def test_nothing_more_is_done_with_an_ordered_quote() -> None:
    assert not any("ordered" in states or "revised" in states for states in ALLOWED.values())


class Acts:
    """The acts on one quote by its owner and the lead, each as a flow does it."""

    def __init__(self, owner: User, lead: User, quote: int, day: date):
        self.owner, self.lead, self.quote, self.day = owner, lead, quote, day

    def at(self) -> Revision:
        """The newest revision."""
        return Revision.objects.filter(quote_id=self.quote).order_by("-pk")[0]

    def save(self, revision: Revision, posts: str = "20") -> None:
        given = draft_of(revision, posts)
        save_draft(self.owner, revision.pk, revision.version, given, today=self.day)

    def issue(self, revision: Revision) -> None:
        issue_revision(
            self.owner, revision.pk, revision.version, today=self.day, now=timezone.now()
        )

    def revise(self, revision: Revision) -> None:
        revise(self.owner, self.quote, today=self.day)

    def decline(self, revision: Revision) -> None:
        decline(self.owner, self.quote, reason="Too dear", today=self.day, now=timezone.now())

    def discard(self, revision: Revision) -> None:
        discard_draft(self.owner, revision.pk, revision.version, today=self.day)

    def accept(self, revision: Revision) -> None:
        write_order(
            self.owner,
            revision.pk,
            revision.version,
            today=self.day,
            now=timezone.now(),
            close_deal=False,
        )

    def ask(self, revision: Revision) -> None:
        ask_sign_off(self.owner, revision.pk, "They asked", today=self.day, now=timezone.now())

    def sign(self, revision: Revision) -> None:
        row = revision.sign_offs.filter(answer="")[0]
        answer_sign_off(
            self.lead, row.pk, granted=True, comment="", today=self.day, now=timezone.now()
        )


_world: list[World] = []


def draft_of(revision: Revision, posts: str) -> Any:
    return draft(_world[0], percent="3", posts=posts)


@pytest.fixture
def acts(world: World, drafted: Revision) -> Acts:
    _world[:] = [world]
    return Acts(world.ilse, world.petra, drafted.quote_id, world.today)


#: What leaves the acceptance of a quote open, and what ends it.
PAIRS = [
    pair
    for pair in combinations_with_replacement(("accept", "revise", "decline"), 2)
    if pair != ("decline", "decline")
] + [("issue", "discard"), ("issue", "issue"), ("issue", "save"), ("save", "discard")]


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize(("first", "second"), PAIRS)
def test_of_two_acts_that_exclude_each_other_one_happens(
    acts: Acts, first: str, second: str
) -> None:
    if first in ("accept", "revise", "decline"):
        acts.issue(acts.at())
    done: list[str] = []
    together = Barrier(2)
    start = acts.at()

    def act(name: str) -> None:
        together.wait()
        try:
            getattr(acts, name)(start)
            done.append(name)
        except FlowError:
            pass
        finally:
            connection.close()

    threads = [Thread(target=act, args=(name,)) for name in (first, second)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    if (first, second) == ("revise", "decline"):
        # A declined quote may be revised; one that is being revised is not declined.
        assert done in (["revise"], ["decline"], ["decline", "revise"])
    else:
        assert len(done) == 1, done
    assert Order.objects.count() <= 1


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("other", ["revise", "decline", "accept", "issue", "save", "discard"])
def test_an_order_is_the_end_of_a_quote(acts: Acts, other: str) -> None:
    acts.issue(acts.at())
    acts.accept(acts.at())
    with pytest.raises(FlowError):
        getattr(acts, other)(acts.at())
    assert Quote.objects.get(pk=acts.quote).declined_at is None


class Model(RuleBasedStateMachine):
    """Any acts in any order: the flows allow exactly what the model allows."""

    acts: Acts

    def __init__(self) -> None:
        super().__init__()
        self.expected = "draft"
        self.count = 1

    @property
    def gone(self) -> bool:
        return self.count == 0

    def attempt(self, act: str, allowed: tuple[str, ...], then: str) -> None:
        before = self.acts.at()
        try:
            getattr(self.acts, act)(before)
        except FlowError:
            assert self.expected not in allowed, (act, self.expected)
            return
        assert self.expected in allowed, (act, self.expected)
        self.expected = then

    @precondition(lambda self: not self.gone)
    @rule()
    def issue(self) -> None:
        self.attempt("issue", ("draft",), "issued")

    @precondition(lambda self: not self.gone)
    @rule()
    def save(self) -> None:
        self.attempt("save", ("draft",), "draft")

    @precondition(lambda self: not self.gone)
    @rule()
    def revise(self) -> None:
        if self.expected in ("issued", "declined"):
            self.count += 1
        self.attempt("revise", ("issued", "declined"), "draft")

    @precondition(lambda self: not self.gone)
    @rule()
    def decline(self) -> None:
        self.attempt("decline", ("issued",), "declined")

    @precondition(lambda self: not self.gone)
    @rule()
    def accept(self) -> None:
        self.attempt("accept", ("issued",), "ordered")

    @precondition(lambda self: not self.gone and self.count > 1)
    @rule()
    def discard(self) -> None:
        if self.expected == "draft":
            self.count -= 1
        self.attempt("discard", ("draft",), "issued")

    @invariant()
    def what_is_stored_is_the_state(self) -> None:
        if self.gone:
            return
        newest = self.acts.at()
        quote = newest.quote
        ordered = Order.objects.filter(revision__quote=quote).exists()
        facts = Facts(
            issued=newest.issued_at is not None,
            valid_until=newest.valid_until,
            declined=quote.declined_at is not None,
            ordered=ordered,
        )
        assert state_of(facts, self.acts.day) == self.expected
        assert quote.revisions.count() == self.count


def test_any_order_of_acts_leaves_what_the_model_says(acts: Acts) -> None:
    from django.db import transaction
    from hypothesis.stateful import run_state_machine_as_test

    class Here(Model):
        def __init__(self) -> None:
            super().__init__()
            self.acts = acts
            self.point = transaction.savepoint()

        def teardown(self) -> None:
            transaction.savepoint_rollback(self.point)

    run_state_machine_as_test(
        Here, settings=settings(max_examples=12, stateful_step_count=12, deadline=None)
    )


Act = Callable[[Revision], None]
