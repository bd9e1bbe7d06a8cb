"""The demo's leads: of a fair, of neighbours who talk, of the telephone; some qualified, some let go."""

from datetime import date, datetime, timedelta

from django.utils import timezone

from apps.customers.models import Customer
from apps.deals.models import Deal
from apps.leads.flows import add_lead, disqualify, note_on_lead
from apps.leads.models import QUALIFIED, Lead
from apps.people.models import User

#: whose, name, company, topic, need, phone, mail, source, next step, days until it
LEADS = [
    ("ilse", "Odette Farrow", "Lark Hill Pears", "Frost line, 3 ha", "Lost the blossom twice in four years.",
     "+44 1632 960 211", "odette@larkhill.example", "fair", "Call about the slope", 0),
    ("ilse", "Bram Teasdale", "Hazelmore Orchard", "Second frost fan", "", "+44 1632 960 245", "",
     "recommended", "Ask whether they are Hazelmoor's neighbours", 2),
    ("ilse", "", "Sorrel & Sons", "Hail net, price only", "", "", "office@sorrel.example", "website", "", None),
    ("ilse", "Mab Kestrel", "", "Two pallets of bark", "", "+44 1632 960 289", "", "called", "Send the leaflet", -3),
    ("tomas", "Ivo Penrose", "Rook Lane Vines", "End posts for 5 ha", "Replants in March; has a quote from elsewhere.",
     "+44 1632 960 230", "ivo@rooklane.example", "fair", "Visit with the sample posts", 6),
    ("tomas", "Greta Lund", "Lund Frugt", "Drip for raspberries", "", "", "greta@lund.example", "mail", "", None),
    ("amara", "Sister Agnes", "Priory Gardens", "Tools for the volunteers", "", "+44 1632 960 277", "",
     "visit", "Call after the feast", 1),
]  # fmt: skip
LET_GO = (
    "amara",
    "Dorian Wick",
    "Wick Turf",
    "Turf wire",
    "Buys for golf courses: nothing of ours",
)
#: What became of one: the deal, the customer.
BECAME = ("Poles and wire, first order", "Nettlecombe Hops")


def make_leads(today: date, now: datetime) -> None:
    """Through the same flows that the screens use; one that became a deal is written as it was."""
    people = {row.username: row for row in User.objects.all()}
    for who, name, company, topic, need, phone, mail, source, step, days in LEADS:
        add_lead(
            people[who], name=name, company=company, topic=topic, need=need, phone=phone,
            email=mail, source=source, next_step=step,
            next_on=None if days is None else today + timedelta(days=days),
        )  # fmt: skip
    first = Lead.objects.order_by("pk").first()
    assert first is not None
    said = "Spoke at the fair: her brother farms at Two Elms, they buy together."
    note_on_lead(first.owner, first.pk, said, now=now)
    who, name, company, topic, reason = LET_GO
    gone = add_lead(people[who], name=name, company=company, topic=topic, source="called")
    disqualify(people[who], gone.pk, gone.version, reason=reason, now=now)
    _became(now)


def _became(now: datetime) -> None:
    deal = Deal.objects.select_related("customer", "contact").get(title=BECAME[0])
    customer = Customer.objects.get(name=BECAME[1])
    made = Lead.objects.create(
        owner=deal.owner, name=deal.contact.name if deal.contact else "", company=customer.name,
        topic="Poles and wire", need="Puts up the first two hectares of hops.", source="recommended",
        state=QUALIFIED, customer=customer, contact=deal.contact, deal=deal, closed_at=now,
    )  # fmt: skip
    Lead.objects.filter(pk=made.pk).update(created_at=timezone.now() - timedelta(days=40))
