"""Random work at the desk on a bad line, with somebody else at the same draft.

Whatever the order of typing, pauses, lost requests, lost answers, refusals, clashes, steps back, closed
and crashed pages: what is issued is what was on the screen, what is said to be saved is saved, and
nothing that was typed is lost.
"""

from datetime import timedelta
import json
import os
from typing import Any

from django.db import transaction
from hypothesis import HealthCheck, Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)
import pytest

from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Revision
from apps.quotes.quick import forget
from routecore.casefile.words import plain
from tests.server.conftest import Caller, World, draft
from tests.server.desk import Desk, build

WORDS = st.sampled_from(["", "Dear Holm", "As agreed", "Before the frost"])
QUANTITIES = st.sampled_from(["1", "7", "20", "100"])
PAUSES = st.sampled_from([0, 400, 400])
FATES = st.sampled_from(["answered", "answered", "answer lost", "lost", "busy", "slow"])

#: So many in every test run, others each time; many with ``make test-desk``.
EXAMPLES = int(os.environ.get("VIVID_DESK_EXAMPLES", "25"))

Content = tuple[tuple[str, ...], str, str]


class AtTheDesk(RuleBasedStateMachine):
    """One person at the desk, a colleague at the same draft, and a line that breaks."""

    world: World

    def __init__(self) -> None:
        super().__init__()
        self.atomic = transaction.atomic()
        self.atomic.__enter__()
        forget()
        made = start_quote(self.world.ilse, today=self.world.today, deal_id=self.world.deal.pk)
        revision = save_draft(
            self.world.ilse, made.pk, made.version, draft(self.world), today=self.world.today
        )
        self.id = revision.pk
        self.mine = Caller(self.world.ilse)
        self.other = Caller(self.world.petra)
        self.desk = Desk(self.world.ilse.pk)
        self.typed: Content = ((), "", "")
        self.sent: dict[int, Content] = {}
        self.issuing: Content | None = None
        self.unseen = False
        self.alone = True

    @initialize(alone=st.booleans())
    def begin(self, alone: bool) -> None:
        self.alone = alone
        self.open()

    def teardown(self) -> None:
        try:
            self.bring_home()
        finally:
            self.desk.end()
            transaction.set_rollback(True)
            self.atomic.__exit__(None, None, None)

    # ---- the server, and what it has ------------------------------------------------------
    def stored(self) -> Content:
        row = Revision.objects.get(pk=self.id)
        quantities = tuple(plain(line.quantity) or "" for line in row.lines.all())
        return quantities, row.message, row.valid_until.isoformat()

    def issued(self) -> bool:
        return Revision.objects.get(pk=self.id).issued_at is not None

    def ask(self, request: dict[str, Any]) -> tuple[int, Any]:
        body = request["body"]
        if request["path"].endswith("/issue"):
            body["follow_up_on"] = self.world.today.isoformat()
            before = self.issued()
            self.issuing = self.sent[request["id"]]
            answer = self.call(request, body)
            if not before and self.issued():
                assert self.stored() == self.issuing, "what was seen is not what was issued"
            return answer
        return self.call(request, body)

    def call(self, request: dict[str, Any], body: Any) -> tuple[int, Any]:
        answer = self.mine.client.generic(
            request["method"],
            request["path"],
            json.dumps(body) if body is not None else "",
            content_type="application/json",
        )
        assert answer.status_code < 500, answer.content
        return answer.status_code, answer.json() if answer.content else None

    def open(self) -> None:
        self.unseen = False
        quote = self.mine("get", f"revisions/{self.id}")
        self.desk.does("open", quote=quote)
        self.typed = self.desk.content

    def goes(self, fate: str) -> None:
        """What is asked now goes over the line; on a slow one it waits."""
        if fate != "slow":
            self.deliver(fate)

    def does(self, what: str, **facts: object) -> None:
        self.desk.does(what, **facts)
        for request in self.desk.waiting:
            shown = self.desk.content if self.desk.view["open"] else self.typed
            self.sent.setdefault(request["id"], shown)

    # ---- what the person does -------------------------------------------------------------
    @property
    def closed(self) -> bool:
        return not self.desk.view["open"] or self.issued()

    @precondition(lambda self: not self.closed)
    @rule(text=WORDS, pause=PAUSES, fate=FATES)
    def type_a_message(self, text: str, pause: int, fate: str) -> None:
        self.does("message", text=text)
        self.typed = (self.typed[0], text, self.typed[2])
        self.does("pass", ms=pause)
        self.goes(fate)

    @precondition(lambda self: not self.closed)
    @rule(row=st.integers(0, 1), quantity=QUANTITIES, pause=PAUSES, fate=FATES)
    def type_a_quantity(self, row: int, quantity: str, pause: int, fate: str) -> None:
        self.does("quantity", row=row, quantity=quantity)
        now = list(self.typed[0])
        now[row] = quantity
        self.typed = (tuple(now), *self.typed[1:])
        self.does("pass", ms=pause)
        self.goes(fate)

    @precondition(lambda self: not self.closed)
    @rule(days=st.sampled_from([-3, 10, 30]))
    def choose_a_day(self, days: int) -> None:
        """One that has gone by is refused."""
        day = (self.world.today + timedelta(days=days)).isoformat()
        self.does("valid", day=day)
        self.typed = (*self.typed[:2], day)

    @precondition(lambda self: not self.closed)
    @rule(which=st.sampled_from(["undo", "redo"]))
    def step(self, which: str) -> None:
        self.does(which)
        self.typed = self.desk.content

    @rule(ms=st.sampled_from([400, 4000]), fate=FATES)
    def wait(self, ms: int, fate: str) -> None:
        self.does("pass", ms=ms)
        self.goes(fate)

    @precondition(lambda self: not self.closed)
    @rule(really=st.sampled_from([False, False, True]))
    def press_issue(self, really: bool) -> None:
        if really:
            self.does("issue")

    @precondition(lambda self: self.desk.view["open"] and self.desk.view["saving"] == "clash")
    @rule(which=st.sampled_from(["mine", "theirs"]))
    def choose(self, which: str) -> None:
        """Read how the server has it, on a line that holds for once; then one of the two stands."""
        mine = self.typed
        self.does(which)
        request = self.desk.waiting[-1]
        if request["method"] != "GET":
            return
        status, body = self.ask(request)
        self.does("answer", id=request["id"], status=status, body=body)
        self.unseen = False
        if which == "theirs":
            self.typed = self.desk.content
            assert self.typed == self.stored()
            if self.issued():
                assert self.desk.view["orphan"] == mine[1]
            else:
                self.does("undo")
                assert self.desk.content == mine, "mine does not come back with undo"
                self.does("redo")

    @precondition(lambda self: not self.closed)
    @rule(crash=st.booleans())
    def close_the_page_and_come_back(self, crash: bool) -> None:
        self.does("pass", ms=200)
        if crash:
            kept = self.desk.view["kept"]
            self.desk.end()
            self.desk, self.sent = Desk(self.world.ilse.pk, kept), {}
        else:
            self.does("leave")
            self.deliver("answered")
        typed, clean, unseen = self.typed, not self.desk.view["kept"], self.unseen
        self.open()
        if not clean:
            # It was made from what was there before somebody else saved.
            self.unseen = unseen
            assert self.desk.content == typed, "what was typed did not outlive the page"

    # ---- what the line and the colleague do -----------------------------------------------
    @precondition(lambda self: self.desk.waiting)
    @rule(fate=st.sampled_from(["answered", "answer lost", "lost", "busy"]))
    def deliver(self, fate: str) -> None:
        """The oldest request arrives, or does not; its answer comes back, or does not.

        Questions for the price while typing are answered on the way: they change nothing.
        """
        while self.desk.waiting and self.desk.waiting[0]["path"].endswith("/price"):
            question = self.desk.waiting[0]
            status, body = self.ask(question)
            self.does("answer", id=question["id"], status=status, body=body)
        if not self.desk.waiting:
            return
        request = self.desk.waiting[0]
        if fate == "busy":
            self.does("answer", id=request["id"], status=503, body={"code": "busy"})
            return
        if fate != "lost":
            status, body = self.ask(request)
            if fate == "answered":
                self.does("answer", id=request["id"], status=status, body=body)
                return
        self.does("lose", id=request["id"])

    @precondition(lambda self: not self.alone and not self.issued())
    @rule(text=st.sampled_from(["Theirs", "Dear Holm"]))
    def the_colleague_saves(self, text: str) -> None:
        quote = self.other("get", f"revisions/{self.id}")
        body = {
            "version": quote["version"],
            "lines": [{**line, "item_id": line["item"]["id"]} for line in quote["lines"]],
            "valid_until": quote["valid_until"],
            "message": text,
        }
        assert self.other.status("put", f"revisions/{self.id}", body) == 200
        self.unseen = True

    # ---- what must hold -------------------------------------------------------------------
    @invariant()
    def what_is_typed_stays_on_the_screen(self) -> None:
        if self.desk.view.get("open") and not self.closed:
            assert self.desk.content == self.typed

    @invariant()
    def saved_means_saved(self) -> None:
        view = self.desk.view
        if view.get("open") and view["saving"] == "saved" and not self.unseen:
            assert self.stored() == self.desk.content

    @invariant()
    def what_is_not_saved_is_kept_in_the_browser(self) -> None:
        view = self.desk.view
        if view.get("open") and view["saving"] in ("offline", "refused", "clash"):
            assert view["kept"]

    @invariant()
    def nobody_clashes_with_oneself(self) -> None:
        if self.desk.view.get("open") and self.desk.view["saving"] == "clash":
            assert self.unseen or self.issued(), "a clash, and nobody else was there"

    def bring_home(self) -> None:
        """The line holds again: everything that was typed reaches the server, or is told."""
        if not self.desk.view.get("open"):
            self.open()
        for _ in range(40):
            if self.desk.waiting:
                self.deliver("answered")
            elif self.desk.view["saving"] in ("typing", "saving", "offline"):
                self.does("pass", ms=40_000)
            elif self.desk.view["saving"] == "refused":
                self.choose_a_day(10)
            elif self.desk.view["saving"] == "clash":
                self.choose("theirs" if self.issued() else "mine")
            else:
                break
        assert self.desk.view["saving"] == "saved"
        if not self.unseen:
            assert self.stored() == self.desk.content


@pytest.fixture(scope="module")
def desk_built() -> None:
    build()


def test_nothing_typed_is_lost_and_only_what_was_seen_is_issued(
    world: World, desk_built: None
) -> None:
    AtTheDesk.world = world
    run_state_machine_as_test(
        AtTheDesk,
        settings=settings(
            max_examples=EXAMPLES,
            stateful_step_count=30,
            # Each example is a browser and a server: the first that fails is told as it is.
            phases=[Phase.explicit, Phase.generate],
            suppress_health_check=list(HealthCheck),
        ),
    )
