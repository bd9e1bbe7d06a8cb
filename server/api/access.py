"""Who may call what, and whose records they get: declared for every operation, enforced at the door.

An operation that is not declared here keeps the application from starting, so none can be forgotten.
A flow asks once more for itself (`apps.people.access`); which records a person gets is decided by the
queries, and a test holds every answer of every role against ``SCOPES`` and ``COSTS``. The README's
table is printed from here: ``python -m ops.rights``.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.http import HttpRequest
from ninja import Router
from ninja.security import SessionAuth

from apps.errors import Forbidden
from apps.people.models import ADMIN, CLERK, LEAD, REP, ROLES, User

SELL = frozenset({REP, LEAD, ADMIN})
FULFIL = frozenset({CLERK, LEAD, ADMIN})
SIGN = frozenset({LEAD, ADMIN})
KEEP = frozenset({ADMIN})
ALL = frozenset(ROLES)
#: What those who may not are told.
REFUSED = {SELL: "sell", FULFIL: "fulfil", SIGN: "sign", KEEP: "keep"}
#: Without a session.
OPEN: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True, kw_only=True)
class Area:
    """What people work with, and whose records each role gets there; nothing for none."""

    name: str
    roles: frozenset[str]
    own: str = "own"
    team: str = "the team's"
    clerk: str = ""
    everything: str = "all"
    operations: tuple[str, ...]
    #: Whether its answers hold what things cost, for those with the right to see it.
    costs: bool = False


AREAS = (
    Area(
        name="sign in and out",
        roles=OPEN,
        own="yes",
        team="yes",
        clerk="yes",
        everything="yes",
        operations=("sign_in", "get_session", "get_house", "get_health"),
    ),
    Area(
        name="one's own habits, views, stages of deals",
        roles=ALL,
        own="yes",
        team="yes",
        clerk="yes",
        everything="yes",
        operations=(
            *("change_habits", "sign_out", "change_password", "list_visits", "end_visit"),
            *("end_other_visits", "list_views", "keep_view", "let_view_go"),
            *("go_to", "list_stages", "list_reasons"),
        ),
    ),
    Area(
        name="Today",
        roles=ALL,
        clerk="what stumbled, news set apart",
        operations=("get_today",),
    ),
    Area(
        name="the calendar of one's own follow-ups",
        roles=SELL,
        own="own",
        team="own",
        everything="own",
        operations=("get_feed", "make_feed", "end_feed", "get_follow_up_card"),
    ),
    Area(
        name="leads",
        roles=SELL,
        operations=(
            *("list_leads", "export_leads", "get_lead", "add_lead", "change_lead", "note_on_lead"),
            *("qualify_lead", "disqualify_lead", "reopen_lead"),
            *("lead_file_columns", "lead_file_template", "import_leads"),
        ),
    ),
    Area(
        name="deals, activities, forecast",
        roles=SELL,
        operations=(
            *(
                "list_deals",
                "export_deals",
                "get_timetable",
                "get_timetable_sums",
                "get_deal",
                "add_deal",
            ),
            *(
                "change_deal",
                "change_deals",
                "choose_quote",
                "add_activity",
                "change_follow_up",
                "get_forecast",
                "get_outlook",
            ),
            *("list_targets", "get_deciding", "get_moved", "list_snapshots", "keep_snapshot"),
            *("get_calibration", "export_outlook", "get_backtest", "list_words", "say_word"),
            *("get_revenue", "what_if", "get_cut", "set_interest", "list_target_changes"),
            "export_targets",
            "set_deal_team",
            *("list_day_visits", "plan_visit", "order_visits"),
            *("list_diary", "export_diary", "list_activities_at", "see_told", "get_timeline"),
            *("read_calendar", "take_events"),
        ),
    ),
    Area(
        name="mail: written, sent, received, its words",
        roles=SELL,
        operations=(
            *(
                "get_mail_draft",
                "write_mail",
                "list_mails",
                "list_all_mails",
                "export_mails",
                "get_mail_file",
                "decide_mail",
            ),
            *(
                "list_arrived_mails",
                "get_arrived_mail",
                "say_whether_mail_waits",
                "get_arrived_file",
                "get_arrived_page",
                "read_arrived_file",
                *("list_mailboxes", "add_mailbox", "give_mailbox_password", "retire_mailbox"),
                "list_strangers",
                "take_stranger_as_contact",
                "take_stranger_as_lead",
                "let_stranger_go",
            ),
            *(
                "get_mail_words",
                "list_mail_word_editions",
                "keep_mail_words",
                "try_mail_words",
                "get_signature",
                "keep_signature",
            ),
        ),
    ),
    Area(
        name="targets: set",
        roles=SIGN,
        own="reads",
        team="the team's",
        everything="all",
        operations=("set_targets", "propose_targets", "read_targets"),
    ),
    Area(
        name="quotes",
        roles=SELL,
        costs=True,
        operations=(
            *("list_quotes", "export_quotes", "start_quote", "get_revision", "save_draft"),
            *("price_draft", "solve", "issue_revision", "revise_quote", "discard_draft"),
            *("copy_quote", "decline_quote", "ask_sign_off", "quote_history", "compare"),
            *("price_again", "get_pdf", "get_xlsx", "get_ubl", "get_case", "import_quotes"),
            *("quote_file_columns", "quote_file_template", "find_items", "match_items"),
            *("read_mail", "item_words", "keep_item_word", "take_item_word_away"),
            *("close_rest", "ask_late"),
        ),
    ),
    Area(
        name="sign off what is beyond a limit",
        roles=SIGN,
        own="asks",
        team="the team's, not own",
        everything="all, not own",
        costs=True,
        operations=("answer_sign_off", "answer_order_sign_off"),
    ),
    Area(
        name="customers, their balances and documents",
        roles=ALL,
        clerk="reads all, no deals or quotes",
        operations=(
            *("list_customers", "export_customers", "get_customer", "list_documents"),
            *("list_top_items", "get_invoice", "get_delivery", "get_payment", "get_invoice_ubl"),
            *("list_invoices", "export_invoices", "list_backlog", "export_backlog"),
        ),
    ),
    Area(
        name="what a customer is called, contacts, addresses; two records made one; retiring",
        roles=SELL,
        operations=(
            *("add_customer", "add_contact", "add_address", "change_contact", "change_address"),
            *("get_customer_fields", "change_customer", "retire_customer", "customer_changes"),
            *(
                "list_likely_customers",
                "list_doubles",
                "list_likely_contacts",
                "preview_merge",
                "merge_customers",
            ),
            *("list_merges", "undo_merge", "get_contact_card"),
        ),
    ),
    Area(
        name="customers, people and places from a file and into one",
        roles=SELL,
        operations=(
            *("customer_file_columns", "customer_file_template", "import_customers"),
            *("export_whole_customers",),
        ),
    ),
    Area(
        name="a customer's price list, tier, payment terms, limit, group, rep",
        roles=SIGN,
        own="reads",
        operations=("change_customer_terms",),
    ),
    Area(
        name="orders",
        roles=ALL,
        clerk="reads all",
        operations=(
            *("list_orders", "export_orders", "get_order", "get_order_ubl", "get_order_pdf"),
            "get_whole_route",
        ),
    ),
    Area(
        name="a quote's address for its buyer, and what they said there",
        roles=SELL,
        operations=(
            *("get_buyer", "make_buyer_link", "end_buyer_link", "order_as_buyer_said"),
            "reply_to_buyer",
        ),
    ),
    Area(
        name="ask the back office for goods that are short, where permitted",
        roles=SELL,
        operations=("ask_for_goods",),
    ),
    Area(
        name="write an order, hand it over",
        roles=SELL,
        operations=(
            *("plan_order", "write_order", "hand_over", "ask_order_sign_off"),
            *("order_now", "cancel_order", "see_order_again", "price_order_again"),
            *("change_order", "notice_change", "stop_self_handover", "promise_new_day"),
        ),
    ),
    Area(
        name="let a lapsed quote be ordered",
        roles=SIGN,
        own="asks",
        costs=True,
        operations=("allow_late",),
    ),
    Area(
        name="handovers, sent again; both sides compared; news set apart, resync",
        roles=FULFIL,
        own="",
        clerk="all",
        operations=(
            *("send_again", "list_news", "try_news_again", "let_news_go"),
            *("get_sync", "resync", "try_change_again", "let_change_go"),
            *("list_handovers", "get_handover", "get_comparisons", "compare_orders"),
        ),
    ),
    Area(
        name="stock and promises by item",
        roles=ALL,
        own="all; buyers' names of own orders",
        team="all; buyers' names of the team's",
        clerk="all",
        operations=("item_promise",),
    ),
    Area(
        name="give a promise to another order",
        roles=ALL,
        own="between own orders",
        team="between the team's",
        clerk="between any",
        operations=("see_move", "move_promise"),
    ),
    Area(
        name="promises of orders",
        roles=ALL,
        clerk="reads all",
        operations=("order_promises",),
    ),
    Area(
        name="promises of quotes, and to customers",
        roles=SELL,
        operations=("promise_lines", "promise_to_customer", "ask_back_office"),
    ),
    Area(
        name="regulars: what a customer usually buys",
        roles=SELL,
        costs=True,
        operations=(
            *("list_regulars", "around_regulars", "price_regulars"),
            *("quote_regulars", "order_regulars"),
        ),
    ),
    Area(
        name="files beside records: see them",
        roles=ALL,
        own="of own records",
        team="of the team's",
        clerk="of orders",
        operations=("list_files", "get_file"),
    ),
    Area(
        name="files beside records: add, mark for the buyer, take away",
        roles=SELL,
        own="of own records",
        team="of the team's",
        operations=("add_file", "mark_file", "remove_file"),
    ),
    Area(
        name="standing orders; framework agreements: what is planned, call-offs",
        roles=SELL,
        own="of own customers",
        team="of the team's",
        operations=(
            *("list_standing_orders", "get_standing_order", "look_ahead", "add_standing_order"),
            *("change_standing_order", "end_standing_order", "begin_standing_turn"),
            *("leave_out_standing_turn", "list_agreements", "get_agreement"),
            *("keep_call_off_plan", "propose_call_off_plan", "call_off"),
        ),
    ),
    Area(
        name="price check, past prices",
        roles=SELL,
        costs=True,
        operations=("check_price", "past_prices"),
    ),
    Area(
        name="lists, rules, taxes, rates; what is agreed with customers",
        roles=SELL,
        own="reads; of own customers",
        team="reads; of the team's",
        everything="keeps",
        operations=(
            *("list_price_kinds", "list_price_records", "export_price_records"),
            *("price_history",),
        ),
    ),
    Area(
        name="the pipeline: its stages, why deals are closed",
        roles=KEEP,
        own="",
        team="",
        everything="keeps",
        operations=("get_pipeline", "keep_pipeline"),
    ),
    Area(
        name="keep prices, items with their costs, limits, kept cases, quote papers",
        roles=KEEP,
        own="",
        team="",
        everything="keeps",
        costs=True,
        operations=(
            *("preview_price", "add_price_record", "change_price_record", "delete_price_record"),
            *("import_price_records", "list_kept_cases", "keep_case", "keep_case_file"),
            *("run_kept_cases", "expect_anew", "let_case_go", "list_papers", "try_paper"),
            *("save_paper", "paper_back"),
        ),
    ),
)
#: Names of values that tell a cost; they leave the server only for those with the right.
COSTS = ("cost", "margin", "margin_percent", "margin_floor")


class SignedIn(SessionAuth):
    """Somebody with an open session, an active account, and a role that may."""

    def __init__(self, roles: frozenset[str]):
        self.roles = roles
        super().__init__()

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        """The person, or None; a role that may not is refused."""
        person = request.user
        if not (isinstance(person, User) and person.is_active):
            return None
        if person.role not in self.roles:
            raise Forbidden("not_for_role", facts={"what": REFUSED.get(self.roles, "any")})
        return person


def area_of(operation: str) -> Area:
    """The area that an operation belongs to."""
    return {name: area for area in AREAS for name in area.operations}[operation]


def guard(routers: Iterable[Router]) -> None:
    """Put every operation behind its door; raises where one is undeclared, or declared and gone."""
    declared = {name: area for area in AREAS for name in area.operations}
    for router in routers:
        for view in router.path_operations.values():
            for operation in view.operations:
                area = declared.pop(operation.operation_id or "", None)
                if area is None:
                    raise LookupError(f"{operation.operation_id} declares no access")
                doors = [SignedIn(area.roles)] if area.roles else []
                operation.auth_param, operation.auth_callbacks = doors or None, doors
    if declared:
        raise LookupError(f"declared, but no operation: {', '.join(declared)}")


def table() -> str:
    """The README's table of rights, in Markdown."""
    lines = ["| | rep | lead | back office | administrator |", "|---|---|---|---|---|"]
    lines += [
        f"| {area.name} | {area.own} | {area.team} | {area.clerk} | {area.everything} |"
        for area in AREAS
    ]
    lines.append("| cost and margin, wherever they stand | where permitted | yes |  | yes |")
    return "\n".join(line.replace("|  |", "| |").replace("|  |", "| |") for line in lines)
