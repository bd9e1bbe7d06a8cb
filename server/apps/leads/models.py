"""Leads, and what is noted of them."""

from django.conf import settings
from django.db import models

from apps.columns import one_of, sorting
from apps.customers.models import Contact, Customer
from apps.deals.models import Deal

OPEN, QUALIFIED, DISQUALIFIED = "open", "qualified", "disqualified"
STATES = (OPEN, QUALIFIED, DISQUALIFIED)
#: Where a lead came from; empty where nobody said.
SOURCES = ("", "fair", "recommended", "called", "mail", "website", "visit", "other")


class Lead(models.Model):
    """Somebody of whom something may come: a name or a company at least.

    ``customer``, ``contact`` and ``deal`` are what became of it. Once it is closed, nothing but its state changes.
    """

    name = models.CharField(max_length=80, blank=True)
    company = models.CharField(max_length=120, blank=True)
    topic = models.CharField(max_length=120, blank=True)
    need = models.CharField(max_length=1000, blank=True)
    email = models.CharField(max_length=200, blank=True)
    phone = models.CharField(max_length=40, blank=True)
    source = models.CharField(max_length=12, blank=True)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="leads"
    )
    next_step = models.CharField(max_length=200, blank=True)
    next_on = models.DateField(null=True)
    state = models.CharField(max_length=12, default=OPEN)
    reason = models.CharField(max_length=200, blank=True)
    customer = models.ForeignKey(
        Customer, on_delete=models.PROTECT, null=True, related_name="leads"
    )
    contact = models.ForeignKey(Contact, on_delete=models.SET_NULL, null=True, related_name="leads")
    deal = models.ForeignKey(Deal, on_delete=models.PROTECT, null=True, related_name="leads")
    created_at = models.DateTimeField(auto_now_add=True)
    closed_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["-pk"]
        indexes = [
            models.Index(fields=["owner", "state", "next_on"], name="lead_of_owner"),
            models.Index(fields=["state", "owner", "id"], name="lead_by_state"),
            models.Index(fields=["email"], name="lead_by_mail"),
            sorting("next_on", "lead_by_next"),
            sorting("company", "lead_by_company"),
        ]
        constraints = [
            one_of("state", STATES, "lead_state_known"),
            one_of("source", SOURCES, "lead_source_known"),
            models.CheckConstraint(
                condition=~models.Q(name="") | ~models.Q(company=""), name="lead_is_somebody"
            ),
            models.CheckConstraint(
                condition=models.Q(deal__isnull=True) | models.Q(customer__isnull=False),
                name="lead_deal_has_a_customer",
            ),
        ]

    @property
    def title(self) -> str:
        """What it is called in a line."""
        return ", ".join(part for part in (self.company, self.name) if part)


class LeadNote(models.Model):
    """What somebody wrote on a lead."""

    lead = models.ForeignKey(Lead, on_delete=models.CASCADE, related_name="notes")
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    text = models.CharField(max_length=1000)
    at = models.DateTimeField()

    class Meta:
        ordering = ["-at", "-pk"]
