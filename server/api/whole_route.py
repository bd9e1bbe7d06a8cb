"""The whole Route of a document, laid out to be drawn and to be read as a tree."""

from dataclasses import replace
from datetime import date
from typing import Literal

from django.http import HttpRequest
from ninja import Router

from api.orders import orders_of
from api.schemas import Schema
from api.shapes import PathId, who
from apps.deals.queries import deals_of
from apps.people.access import pick
from apps.people.models import CLERK
from apps.quotes.queries import own_revision
from apps.route.whole import (
    COLUMNS,
    MOST_STOPS,
    Node,
    placed,
    whole_of_deal,
    whole_of_order,
    whole_of_quote,
)

router = Router(tags=["route"])
#: What the back office reads of a chain.
OF_SELLING = ("lead", "deal", "quote")


class NodeOut(Schema):
    """A document of the chain: where it lies, what it comes from."""

    id: str
    kind: str
    name: str
    note: str
    state: str
    on: date | None
    amount: str | None
    currency: str
    to: str
    open: bool
    late: bool
    folded: int
    origins: list[str]
    column: int
    row: int


class WholeRouteOut(Schema):
    """The chain. ``columns`` are its kinds from left to right; ``stops`` how many documents it has in all."""

    title: str
    here: str
    columns: list[str]
    rows: int
    stops: int
    folds: bool
    nodes: list[NodeOut]


@router.get("/route/{kind}/{record_id}", response=WholeRouteOut, operation_id="get_whole_route")
def whole(
    request: HttpRequest,
    kind: Literal["deal", "quote", "order"],
    record_id: PathId,
    unfolded: bool = False,
) -> WholeRouteOut:
    """Every document of a chain. A constant number of queries."""
    person = who(request)
    if kind == "deal":
        deal = pick(deals_of(person).select_related("customer"), record_id, "deal")
        title, here, nodes = deal.customer.name, f"deal{deal.pk}", whole_of_deal(deal)
    elif kind == "quote":
        revision = own_revision(person, record_id)
        title, here = revision.quote.customer.name, f"quote{revision.pk}"
        nodes = whole_of_quote(revision.quote)
    else:
        order = pick(orders_of(person).select_related("deal"), record_id, "order")
        title, here, nodes = order.customer_name, f"order{order.pk}", whole_of_order(order)
    if person.role == CLERK:
        nodes = _of_orders_alone(nodes)
    found = placed(nodes, unfolded=unfolded)
    return WholeRouteOut(
        title=title,
        here=here,
        columns=[name for name in COLUMNS if any(node.kind == name for node in found)],
        rows=max((node.row for node in found), default=0) + 1,
        stops=len(nodes),
        folds=len(nodes) > MOST_STOPS,
        nodes=[_node(node) for node in found],
    )


def _of_orders_alone(nodes: list[Node]) -> list[Node]:
    """Without deals and quotes, which the back office does not see."""
    gone = {node.id for node in nodes if node.kind in OF_SELLING}
    return [
        replace(node, origins=tuple(each for each in node.origins if each not in gone))
        for node in nodes
        if node.id not in gone
    ]


def _node(node: Node) -> NodeOut:
    return NodeOut(
        **{name: getattr(node, name) for name in NodeOut.model_fields if name != "origins"},
        origins=list(node.origins),
    )
