"""A deal's team reads it, notes what was done and adds files; it changes nothing of its terms."""

from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
import pytest

from apps.deals.models import Deal, Helper
from apps.diary.models import Activity
from apps.journal.models import Change
from tests.server.conftest import Caller, World


def put(caller: Caller, deal: Deal, rows: list[dict[str, Any]], version: int | None = None) -> Any:
    known = Deal.objects.get(pk=deal.pk).version
    return caller.ask("put", f"deals/{deal.pk}/team", {"version": version or known, "rows": rows})


@pytest.fixture
def as_tomas(world: World) -> Caller:
    return world.call(world.tomas)


def test_a_colleague_reads_a_deal_from_when_they_are_in_its_team(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    path = f"deals/{world.deal.pk}"
    assert as_tomas.status("get", path) == 404
    rows = [{"person_id": world.tomas.pk, "part": "  plans   the drip lines "}]
    told = put(as_ilse, world.deal, rows).json()
    assert told["team"] == [
        {"person_id": world.tomas.pk, "name": world.tomas.name, "part": "plans the drip lines"}
    ]
    change = Change.objects.get(what="deal", record=world.deal.pk, field="team")
    assert change.after == f"{world.tomas.name} (plans the drip lines)"
    seen = as_tomas("get", path)
    assert (seen["yours"], seen["standing"], seen["route"]) == (False, None, [])
    assert as_ilse("get", path)["yours"]
    helped = as_tomas("get", "deals", helped="true")
    assert [row["id"] for row in helped["rows"]] == [world.deal.pk]
    # It is no part of their own figures.
    assert as_tomas("get", "forecast")["total"]["count"] == 0
    assert put(as_ilse, world.deal, []).status_code == 200
    assert as_tomas.status("get", path) == 404


def test_the_team_notes_and_adds_files_and_settles_what_is_its_own(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    note = {"kind": "note", "text": "Measured the slope", "deal_id": world.deal.pk}
    upload = f"/api/files/deal/{world.deal.pk}"
    assert as_tomas.status("post", "activities", note) == 404
    put(as_ilse, world.deal, [{"person_id": world.tomas.pk}])
    assert as_tomas.status("post", "activities", note) == 201
    due = {**note, "kind": "follow_up", "due_on": str(world.today)}
    mine = as_tomas("post", "activities", due)
    theirs = as_ilse("post", "activities", due)
    # On Today it leads to the deal that its helper reads.
    (stop,) = as_tomas("get", "today")["follow_ups"]
    assert stop["to"] == f"/deals/{world.deal.pk}"
    done = {"version": 1, "done": True}
    assert as_tomas.status("patch", f"activities/{mine['id']}", done) == 200
    assert as_tomas.status("patch", f"activities/{theirs['id']}", done) == 404
    file = {"file": SimpleUploadedFile("plan.txt", b"drip lines")}
    assert as_tomas.client.post(upload, file).status_code == 201
    (kept,) = as_tomas("get", f"files/deal/{world.deal.pk}")
    assert as_tomas.status("get", f"kept-files/{kept['id']}") == 200
    put(as_ilse, world.deal, [])
    assert as_tomas.status("get", f"kept-files/{kept['id']}") == 404
    assert as_ilse.status("get", f"kept-files/{kept['id']}") == 200
    assert Activity.objects.filter(deal=world.deal).count() == 3


def test_the_team_changes_nothing_else(world: World, as_ilse: Caller, as_tomas: Caller) -> None:
    put(as_ilse, world.deal, [{"person_id": world.tomas.pk}])
    path, version = f"deals/{world.deal.pk}", Deal.objects.get(pk=world.deal.pk).version
    asked = {
        "patch": as_tomas.status("patch", path, {"version": version, "estimate": "1"}),
        "team": put(as_tomas, world.deal, []).status_code,
        "quote": as_tomas.status("post", "quotes", {"deal_id": world.deal.pk}),
        "interest": as_tomas.status("put", f"{path}/interest", {"version": version, "rows": []}),
        "customer": as_tomas.status("get", f"customers/{world.customer.pk}"),
        "route": as_tomas.status("get", f"route/deal/{world.deal.pk}"),
    }
    assert set(asked.values()) == {404}, asked
    assert Helper.objects.count() == 1
    assert Deal.objects.get(pk=world.deal.pk).version == version


def test_who_can_be_in_a_team(world: World, as_ilse: Caller) -> None:
    tomas, twice = {"person_id": world.tomas.pk}, {"person_id": world.tomas.pk, "part": "x"}
    for rows, code in (
        ([{"person_id": world.stranger.pk}], "not_found"),
        ([{"person_id": world.joren.pk}], "not_found"),
        ([{"person_id": world.ilse.pk}], "owner_helps"),
        ([tomas, twice], "double_id"),
        ([{"person_id": n} for n in range(1, 14)], "invalid"),
    ):
        answer = put(as_ilse, world.deal, rows)
        assert answer.status_code in (404, 422)
        if code != "invalid":
            assert answer.json()["code"] == code
    assert put(as_ilse, world.deal, [tomas], version=99).status_code == 409
    assert not Helper.objects.exists()
    # Whoever becomes the owner is not of the team as well.
    put(as_ilse, world.deal, [tomas])
    version = Deal.objects.get(pk=world.deal.pk).version
    given = {"version": version, "owner_id": world.tomas.pk}
    assert world.call(world.petra).status("patch", f"deals/{world.deal.pk}", given) == 200
    assert not Helper.objects.exists()
