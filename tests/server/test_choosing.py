"""Of several quotes of a deal one counts: the one that was issued last, or the one that was chosen."""

from django.utils import timezone

from apps.deals.models import Deal
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.starting import revise, start_quote
from apps.quotes.models import Quote, Revision
from tests.server.conftest import Caller, World, draft


def another(world: World, posts: str, quote: Quote | None = None) -> Revision:
    """One more quote of the deal, or a revision of one, issued."""
    made = (
        revise(world.ilse, quote.pk, today=world.today)
        if quote
        else start_quote(world.ilse, today=world.today, deal_id=world.deal.pk)
    )
    saved = save_draft(
        world.ilse, made.pk, made.version, draft(world, posts=posts), today=world.today
    )
    return issue_revision(
        world.ilse, saved.pk, saved.version, today=world.today, now=timezone.now()
    )


def shown(caller: Caller, world: World) -> tuple[str, list[int]]:
    """The deal's amount, and which of its quotes count."""
    told = caller("get", f"deals/{world.deal.pk}")
    return told["amount"], [row["quote_id"] for row in told["quotes"] if row["current"]]


def test_the_quote_that_is_issued_last_counts_until_one_is_chosen(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    first, second = issued, another(world, "40")
    assert shown(as_ilse, world) == (f"{second.base_net:.2f}", [second.quote_id])
    path, version = f"deals/{world.deal.pk}/current-quote", Deal.objects.get().version
    told = as_ilse("post", path, {"version": version, "quote_id": first.quote_id})
    assert told["amount"] == f"{first.base_net:.2f}"
    assert shown(as_ilse, world)[1] == [first.quote_id]
    # Another one that is issued does not take its place, a revision of it does count.
    third = another(world, "60")
    assert shown(as_ilse, world) == (f"{first.base_net:.2f}", [first.quote_id])
    newer = another(world, "50", first.quote)
    assert shown(as_ilse, world) == (f"{newer.base_net:.2f}", [first.quote_id])
    # Chosen anew, the other one counts alone.
    version = Deal.objects.get().version
    as_ilse("post", path, {"version": version, "quote_id": third.quote_id})
    assert shown(as_ilse, world) == (f"{third.base_net:.2f}", [third.quote_id])
    assert Quote.objects.filter(chosen=True).count() == 1


def test_a_draft_an_unseen_change_and_others_quotes_are_refused(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    path, version = f"deals/{world.deal.pk}/current-quote", Deal.objects.get().version
    body = {"version": version, "quote_id": drafted.quote_id}
    assert as_ilse.ask("post", path, body).json()["code"] == "not_issued_yet"
    assert as_ilse.status("post", path, {**body, "version": version + 1}) == 409
    assert world.call(world.tomas).status("post", path, body) == 404
    beside = start_quote(world.ilse, today=world.today, customer_id=world.customer.pk)
    assert as_ilse.status("post", path, {**body, "quote_id": beside.quote_id}) == 404
