"""Quotes, their revisions and lines. An issued revision never changes: triggers refuse it."""

from django.conf import settings
from django.db import models

from apps.catalogue.models import Item
from apps.columns import (
    amount_column,
    one_of,
    percent_column,
    price_column,
    quantity_column,
    sorting,
)
from apps.customers.models import Contact, Customer
from apps.deals.models import Deal
from apps.papers.look import PAPERS
from apps.stock.models import Depot


class Quote(models.Model):
    """One offer to one customer, in as many revisions as it takes.

    ``rest_closed_at`` is when it was said that nothing more will be ordered of it. ``allowed_until``
    is the day until which a lead lets it be ordered after it lapsed; ``late_asked_at`` when they were
    asked to. A ``direct`` one was ordered as it was written, without being offered first. ``chosen``: of several quotes
    of a deal the one that its amount follows; where none was, the one that was issued last.

    From ``revision_id`` on, the figures of its newest revision and the order that it became, as
    ``apps.quotes.kept`` declares them: the database writes them, nobody else.
    """

    number = models.CharField(max_length=20, unique=True)
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="quotes")
    deal = models.ForeignKey(Deal, on_delete=models.PROTECT, null=True, related_name="quotes")
    contact = models.ForeignKey(Contact, on_delete=models.SET_NULL, null=True)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="quotes"
    )
    created_at = models.DateTimeField(auto_now_add=True)
    declined_at = models.DateTimeField(null=True)
    declined_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    decline_reason = models.CharField(max_length=200, blank=True)
    direct = models.BooleanField(default=False)
    chosen = models.BooleanField(default=False)
    rest_closed_at = models.DateTimeField(null=True)
    rest_closed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    rest_reason = models.CharField(max_length=200, blank=True)
    late_asked_at = models.DateTimeField(null=True)
    late_asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    late_reason = models.CharField(max_length=200, blank=True)
    allowed_until = models.DateField(null=True)
    allowed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    allowed_reason = models.CharField(max_length=200, blank=True)
    revision_id = models.BigIntegerField(null=True, editable=False)
    letter = models.CharField(max_length=2, default="", editable=False)
    on = models.DateField(null=True, editable=False)
    valid_until = models.DateField(null=True, editable=False)
    issued_at = models.DateTimeField(null=True, editable=False)
    currency = models.CharField(max_length=3, default="", editable=False)
    net = amount_column(default=0, editable=False)
    payable = amount_column(default=0, editable=False)
    order_pk = models.BigIntegerField(null=True, editable=False)
    order_number = models.CharField(max_length=20, null=True, editable=False)
    lines_left = models.PositiveIntegerField(default=0, editable=False)
    customer_name = models.CharField(max_length=120, default="", editable=False)
    owner_name = models.CharField(max_length=150, default="", editable=False)
    deal_title = models.CharField(max_length=120, default="", editable=False)

    class Meta:
        indexes = [
            *(
                sorting(column, f"quote_by_{column}")
                for column in (
                    *("on", "valid_until", "net", "payable", "issued_at", "declined_at"),
                    *("customer_name", "deal_title", "owner_name"),
                )
            ),
            models.Index(fields=["owner", "on"], name="quote_by_owner_and_day"),
            models.Index(fields=["late_asked_at"], name="quote_asked_late"),
            models.Index(
                fields=["owner", "order_number", "declined_at", "issued_at", "valid_until"],
                name="quote_by_owner_and_state",
            ),
        ]


class Revision(models.Model):
    """A state of a quote. ``priced`` is the core's whole answer, with the price trails.

    ``case`` is, once it is issued, the price case behind it: the computation as it was that day.
    The totals repeat figures of ``priced`` for lists and sums; both are written by one flow.
    ``deliver_to`` is the delivery address as it was when it was chosen, with its ``id``.
    ``content_mark`` tells what was typed in the last save from other content.
    ``base_rate`` and ``base_net`` are in the base currency, at the rate of the issue date.
    """

    quote = models.ForeignKey(Quote, on_delete=models.CASCADE, related_name="revisions")
    letter = models.CharField(max_length=2)
    on = models.DateField()
    valid_until = models.DateField()
    currency = models.CharField(max_length=3)
    payable_step = price_column(null=True)
    discount_percent = percent_column(null=True)
    discount_amount = amount_column(null=True)
    discount_on = models.CharField(max_length=5, default="net")
    charges = models.JSONField(default=list)
    terms_days = models.PositiveSmallIntegerField()
    terms_end_of_month = models.CharField(max_length=6, blank=True)
    terms_more = models.JSONField(default=dict)
    buyer_reference = models.CharField(max_length=60, blank=True)
    message = models.CharField(max_length=1000, blank=True)
    paper = models.CharField(max_length=8, default="short")
    requested_on = models.DateField(null=True)
    deliver_to = models.JSONField(null=True)
    buyer = models.JSONField(default=dict)
    priced = models.JSONField(default=dict)
    case = models.JSONField(null=True)
    lines_net = amount_column(default=0)
    net = amount_column(default=0)
    tax_total = amount_column(default=0)
    payable_rounding = amount_column(default=0)
    payable = amount_column(default=0)
    base_rate = price_column(null=True)
    base_net = amount_column(null=True)
    issued_at = models.DateTimeField(null=True)
    issued_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    saved_at = models.DateTimeField(auto_now=True)
    version = models.PositiveIntegerField(default=1)
    content_mark = models.CharField(max_length=32, blank=True)

    class Meta:
        ordering = ["quote_id", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["quote", "letter"], name="revision_letter_once"),
            models.CheckConstraint(
                condition=models.Q(valid_until__gte=models.F("on")),
                name="revision_valid_after_its_date",
            ),
            models.CheckConstraint(
                condition=models.Q(discount_percent__isnull=True)
                | models.Q(discount_amount__isnull=True),
                name="revision_one_discount",
            ),
            one_of("paper", tuple(PAPERS), "revision_paper_known"),
        ]


#: A line of goods counts, or is an alternative or an option; a heading or a note is words alone.
LINE_KINDS = ("normal", "alternative", "optional", "heading", "note")
WORDS_ONLY = ("heading", "note")


class QuoteLine(models.Model):
    """A line as the rep typed it, and (frozen at issue) what it came to.

    ``depot`` None is the usual one, ``wanted_on`` None the day of the whole quote.
    """

    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="lines")
    key = models.CharField(max_length=36)
    position = models.PositiveIntegerField()
    kind = models.CharField(max_length=11, default="normal")
    alternative_to = models.CharField(max_length=36, blank=True)
    item = models.ForeignKey(Item, on_delete=models.PROTECT, null=True)
    text = models.CharField(max_length=200)
    quantity = quantity_column(null=True)
    unit = models.CharField(max_length=3, blank=True)
    typed_price = price_column(null=True)
    price_reason = models.CharField(max_length=200, blank=True)
    discount_percent = percent_column(null=True)
    discount_amount = amount_column(null=True)
    depot = models.ForeignKey(Depot, on_delete=models.PROTECT, null=True, related_name="+")
    wanted_on = models.DateField(null=True)
    price = price_column(null=True)
    per = quantity_column(null=True)
    price_unit = models.CharField(max_length=3, blank=True)
    net = amount_column(null=True)
    discount_share = amount_column(null=True)
    tax_category = models.CharField(max_length=20, blank=True)

    class Meta:
        ordering = ["revision_id", "position"]
        constraints = [
            models.UniqueConstraint(fields=["revision", "key"], name="line_key_once"),
            one_of("kind", LINE_KINDS, "quote_line_kind_known"),
            models.CheckConstraint(
                condition=models.Q(kind__in=WORDS_ONLY, item__isnull=True)
                | models.Q(item__isnull=False, quantity__gt=0),
                name="quote_line_has_goods_or_words",
            ),
        ]


class QuotePaper(models.Model):
    """The document that left the house, exactly as it did."""

    revision = models.OneToOneField(Revision, on_delete=models.CASCADE, related_name="document")
    pdf = models.BinaryField()
    made_at = models.DateTimeField(auto_now_add=True)


class SignOff(models.Model):
    """Another person's approval of what exceeds a limit, for exactly what was asked.

    ``fingerprint`` is of everything that was signed: a draft that changes needs a new one. Of one
    content a revision has one open question (``open_mark`` is its mark until it is answered).
    """

    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="sign_offs")
    fingerprint = models.CharField(max_length=64)
    reason = models.CharField(max_length=500)
    excesses = models.JSONField(default=list)
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    asked_at = models.DateTimeField()
    answer = models.CharField(max_length=7, blank=True)
    answered_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    answered_at = models.DateTimeField(null=True)
    comment = models.CharField(max_length=500, blank=True)
    open_mark = models.GeneratedField(
        expression=models.Case(models.When(answer="", then=models.F("fingerprint"))),
        output_field=models.CharField(max_length=64, null=True),
        db_persist=True,
    )

    class Meta:
        ordering = ["-pk"]
        constraints = [
            one_of("answer", ("", "granted", "refused"), "sign_off_answer_known"),
            models.UniqueConstraint(fields=["revision", "open_mark"], name="sign_off_asked_once"),
        ]
