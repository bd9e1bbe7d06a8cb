"""The page that a buyer reads under a quote's own address: no sign-in, no script, the paper's language."""

from collections.abc import Mapping
from decimal import Decimal

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods

from api.kept_files import file_response
from api.people import caller_of
from api.shapes import today
from apps.buyers.flows import (
    Choice,
    ask_for_change,
    is_open,
    open_link,
    plan_of,
    say_yes,
    usual_choice,
)
from apps.buyers.models import BuyerLink
from apps.buyers.sight import page_of
from apps.buyers.words import words_of
from apps.cleaning import clean
from apps.errors import FlowError, Invalid, TooMany
from apps.files.queries import with_paper
from apps.files.store import place_of as content_of
from apps.orders.flows import Plan
from apps.papers.editions import current_template
from apps.papers.pdf import make_pdf
from apps.quotes.documents import document_of
from apps.quotes.models import WORDS_ONLY
from apps.quotes.seen import Seen
from routecore.reading import read_number

LONGEST = 2000
MOST_QUANTITY = Decimal(10) ** 9
#: What a refusal is in the buyer's words; anything else is "not possible like this".
SAID = {
    "changed_unseen": "moved",
    "total_changed": "moved",
    "said_already": "said_already",
    "wait": "wait",
}


@never_cache
@require_http_methods(["GET", "POST"])
def buyer_page(request: HttpRequest, token: str) -> HttpResponse:
    """The quote, what the buyer chooses of it, and what they say to it."""
    address = caller_of(request).address
    try:
        link = open_link(
            token, address, today=today(), now=timezone.now(), reads=request.method == "GET"
        )
    except TooMany:
        return _closed(request, "wait", 429)
    if link is None:
        return _closed(request, "gone", 404)
    typed = {name: clean(str(value))[:LONGEST] for name, value in request.POST.items()}
    choice, plan, fault = _chosen(link, typed)
    act = typed.get("act", "")
    if act in ("yes", "ask") and not (act == "yes" and (fault or plan is None)):
        fault = _act(link, act, choice, typed, address)
        if not fault:
            return redirect(request.path)
    said = words_of(link.revision.quote.customer.language)
    shown = {**page_of(link, choice, plan, typed), "typed": typed, "fault": _words(fault, said)}
    return render(request, "buyer.html", shown, status=422 if fault else 200)


@never_cache
@require_http_methods(["GET"])
def buyer_pdf(request: HttpRequest, token: str) -> HttpResponse:
    """The quote on paper."""
    try:
        link = open_link(
            token, caller_of(request).address, today=today(), now=timezone.now(), reads=False
        )
    except TooMany:
        return _closed(request, "wait", 429)
    if link is None:
        return _closed(request, "gone", 404)
    paper = link.revision.paper or "short"
    body = make_pdf(document_of(link.revision), current_template(paper))
    name = f"{link.revision.quote.number}-{link.revision.letter}.pdf"
    headers = {"Content-Disposition": f'inline; filename="{name}"'}
    return HttpResponse(body, content_type="application/pdf", headers=headers)


@never_cache
@require_http_methods(["GET"])
def buyer_file(request: HttpRequest, token: str, pk: int) -> HttpResponseBase:
    """A file that goes with the paper."""
    try:
        link = open_link(
            token, caller_of(request).address, today=today(), now=timezone.now(), reads=False
        )
    except TooMany:
        return _closed(request, "wait", 429)
    row = with_paper(link.revision).filter(pk=pk).first() if link else None
    if row is None or not content_of(row.digest).exists():
        return _closed(request, "gone", 404)
    return file_response(row)


def _closed(request: HttpRequest, why: str, status: int) -> HttpResponse:
    """One page for whatever does not hold, in both languages: it says nothing of why."""
    both = [words_of(language)[why] for language in ("en", "de")]
    return render(request, "buyer_closed.html", {"words": both}, status=status)


def _chosen(
    link: BuyerLink, typed: Mapping[str, str]
) -> tuple[Choice | None, Plan | None, tuple[str, dict[str, str]] | None]:
    """What the buyer takes, what it comes to, and what stands against it."""
    if not is_open(link.revision, today()):
        return None, None, None
    usual = usual_choice(link.revision)
    fault: tuple[str, dict[str, str]] | None = None
    choice = usual
    if "act" in typed:
        try:
            choice = _choice_of(link, typed)
        except Invalid as unread:
            fault = ("unread", {"text": str(unread.facts.get("text", ""))})
    try:
        return choice, plan_of(link, choice, today=today()), fault
    except FlowError as refusal:
        plan = plan_of(link, usual, today=today())
        return choice, plan, fault or (SAID.get(refusal.code, "not_possible"), {})


def _choice_of(link: BuyerLink, typed: Mapping[str, str]) -> Choice:
    """Read from the form: an alternative in the place of its line, options, quantities where they may change."""
    lines: dict[str, Decimal | None] = {}
    rows = list(link.revision.lines.exclude(kind__in=WORDS_ONLY))
    instead = {
        row.alternative_to for row in rows if typed.get(f"for-{row.alternative_to}") == row.key
    }
    for row in rows:
        chosen = {
            "alternative": typed.get(f"for-{row.alternative_to}") == row.key,
            "optional": typed.get(f"take-{row.key}") == "on",
        }.get(row.kind, row.key not in instead)
        if chosen:
            lines[row.key] = _quantity(link, row.key, typed)
    return Choice(lines=lines)


def _quantity(link: BuyerLink, key: str, typed: Mapping[str, str]) -> Decimal | None:
    text = typed.get(f"q-{key}", "").strip()
    if not link.quantities or not text:
        return None
    read = read_number(text)
    if read is None or not read.certain or read.value >= MOST_QUANTITY:
        raise Invalid("unread", path=f"q-{key}", facts={"text": text})
    return read.value


def _act(
    link: BuyerLink, act: str, choice: Choice | None, typed: Mapping[str, str], address: str
) -> tuple[str, dict[str, str]] | None:
    """Do what was asked; what stands against it, in a word."""
    name, now = typed.get("name", "")[:80], timezone.now()
    try:
        if act == "ask":
            ask_for_change(
                link, name=name, words=typed.get("words", "")[:1000], address=address, now=now
            )
        elif choice is not None:
            say_yes(
                link,
                choice,
                name=name,
                reference=typed.get("reference", "")[:60],
                seen=Seen(mark=typed.get("mark", ""), payable=typed.get("payable", "")),
                address=address,
                today=today(),
                now=now,
            )
    except Invalid as missing:
        return (f"{missing.path}_missing" if missing.code == "required" else "not_possible"), {}
    except FlowError as refusal:
        return SAID.get(refusal.code, "not_possible"), {}
    return None


def _words(fault: tuple[str, dict[str, str]] | None, words: Mapping[str, str]) -> str:
    return words[fault[0]].format(**fault[1]) if fault else ""
