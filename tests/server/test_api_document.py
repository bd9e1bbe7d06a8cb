"""The API keeps to its own document: whatever the document allows is answered as the document says.

Schemathesis makes requests out of the document; half of them name records that are there. A few of each
operation here, many with ``make test-api``.
"""

from functools import cache
import json
import os
from typing import Any
from urllib.parse import quote

from django.db import transaction
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
import jsonschema_rs
import pytest
import schemathesis

from api.schemas import Schema
from apps.people.models import User
from apps.quotes.models import Revision
from tests.server.conftest import Caller, World
from tests.server.document import DOCUMENT

EXAMPLES = int(os.environ.get("VIVID_API_EXAMPLES", "8"))
OPERATIONS = {
    found.ok().label: found.ok()
    for found in schemathesis.openapi.from_dict(DOCUMENT).get_all_operations()
}
#: What asks outside processes, or ends what the test stands on.
LEFT_OUT = {"GET /api/health", "DELETE /api/session"}
ROLES = ("ilse", "admin")
#: Fields that name a record, with what the small world holds.
Named = dict[str, int | str]


def named(world: World, drafted: Revision) -> Named:
    return {
        "customer_id": world.customer.pk,
        "customer": world.customer.pk,
        "deal_id": world.deal.pk,
        "item_id": world.post.pk,
        "item": world.post.pk,
        "revision_id": drafted.pk,
        "quote_id": drafted.quote_id,
        "version": drafted.version,
        "owner": world.ilse.pk,
        "owner_id": world.ilse.pk,
        "unit": "H87",
    }


def grounded(value: Any, known: Named) -> Any:
    """The same with the names of records that are there."""
    if isinstance(value, dict):
        return {key: known.get(key, grounded(part, known)) for key, part in value.items()}
    return [grounded(part, known) for part in value] if isinstance(value, list) else value


@cache
def validator_of(shape: str) -> Any:
    """The whole document is read for each."""
    whole = {**json.loads(shape), "components": DOCUMENT["components"]}
    return jsonschema_rs.validator_for(whole)


def checked(operation: dict[str, Any], answer: Any) -> None:
    """No fault of ours, refusals in the one form, and answers as they are declared."""
    assert answer.status_code < 500, answer.content[:500]
    if answer.status_code >= 400:
        fault = answer.json()
        assert fault["code"] and fault["message"], fault
        return
    declared = operation["responses"].get(str(answer.status_code))
    assert declared is not None, answer.status_code
    content = declared.get("content", {}).get("application/json")
    if content and not answer.streaming and "json" in answer.headers.get("Content-Type", ""):
        validator_of(json.dumps(content["schema"])).validate(json.loads(answer.content))


def asked(caller: Caller, case: Any, known: Named | None) -> Any:
    """Send a case as a browser would."""
    given_path = grounded(dict(case.path_parameters or {}), known or {})
    path = case.path
    for key, value in given_path.items():
        path = path.replace("{" + key + "}", quote(str(value), safe=""))
    query = grounded(dict(case.query or {}), known or {})
    body = case.body
    if case.media_type == "application/json":
        body = grounded(body, known or {})
        return caller.client.generic(
            case.method, path, json.dumps(body), content_type="application/json", query_params=query
        )
    return caller.client.generic(case.method, path, query_params=query)


@pytest.mark.parametrize("label", [label for label in OPERATIONS if label not in LEFT_OUT])
def test_an_operation_keeps_to_the_document(world: World, drafted: Revision, label: str) -> None:
    operation, known = OPERATIONS[label], named(world, drafted)
    people = [getattr(world, role) for role in ROLES]

    @settings(
        max_examples=EXAMPLES,
        database=None,
        deadline=None,
        suppress_health_check=list(HealthCheck),
        derandomize=EXAMPLES < 10,
    )
    @given(case=operation.as_strategy(), here=st.booleans(), person=st.sampled_from(people))
    def keeps(case: Any, here: bool, person: User) -> None:
        with transaction.atomic():
            checked(operation.definition.raw, asked(Caller(person), case, known if here else None))
            transaction.set_rollback(True)

    keeps()


def test_two_shapes_of_one_name_keep_the_application_from_starting() -> None:
    elsewhere = {"__module__": "api.elsewhere", "__annotations__": {}}
    with pytest.raises(TypeError, match="two shapes are called DepotOut"):
        type("DepotOut", (Schema,), elsewhere)
