"""Mail that leaves the house: written once, sent once, and what became of it."""

import uuid

from django.conf import settings
from django.db import models
from django.utils import timezone

from apps.columns import one_of
from apps.customers.models import Contact, Customer
from apps.deals.models import Deal
from apps.leads.models import Lead
from apps.ledger.models import Invoice
from apps.orders.models import Order
from apps.quotes.models import Revision

#: ``handing``: the server has the words and has not said yet whether it takes them; ``unknown``: it never said.
WAITING, UNDER_WAY, HANDING, SENT = "waiting", "under_way", "handing", "sent"
UNKNOWN, REFUSED, LET_GO = "unknown", "refused", "let_go"
#: It was sent, and a report came that it did not arrive (RFC 3464).
BOUNCED = "bounced"
STATES = (WAITING, UNDER_WAY, HANDING, SENT, UNKNOWN, REFUSED, LET_GO, BOUNCED)
#: What a person decides about.
STUCK = (UNKNOWN, REFUSED, BOUNCED)


class Message(models.Model):
    """A mail: to whom, with which words, about which records, and how far it came. ``elsewhere``: its person wrote and
    sent it with another program; it was found among what they sent.

    ``message_id`` is its Message-ID for ever, however often it is tried. ``to`` and ``copies`` are lists of name and
    address. ``settled_by`` is who said what became of it, where the server did not.
    """

    key = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    message_id = models.CharField(max_length=120, unique=True)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    sender_name = models.CharField(max_length=120)
    sender = models.CharField(max_length=254)
    reply_to = models.CharField(max_length=254, blank=True)
    to = models.JSONField()
    copies = models.JSONField(default=list)
    hidden_copy = models.CharField(max_length=254, blank=True)
    subject = models.CharField(max_length=200)
    body = models.TextField()
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="mails")
    contact = models.ForeignKey(Contact, on_delete=models.SET_NULL, null=True, related_name="mails")
    deal = models.ForeignKey(Deal, on_delete=models.SET_NULL, null=True, related_name="mails")
    revision = models.ForeignKey(
        Revision, on_delete=models.PROTECT, null=True, related_name="mails"
    )
    order = models.ForeignKey(Order, on_delete=models.PROTECT, null=True, related_name="mails")
    invoice = models.ForeignKey(Invoice, on_delete=models.PROTECT, null=True, related_name="mails")
    in_answer_to = models.ForeignKey(
        "Received", on_delete=models.SET_NULL, null=True, related_name="our_answers"
    )
    state = models.CharField(max_length=10, default=WAITING)
    tries = models.PositiveIntegerField(default=0)
    next_try_at = models.DateTimeField()
    leased_until = models.DateTimeField(null=True)
    said = models.CharField(max_length=300, blank=True)
    elsewhere = models.BooleanField(default=False)
    created_at = models.DateTimeField(auto_now_add=True)
    sent_at = models.DateTimeField(null=True)
    settled_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["-pk"]
        indexes = [
            models.Index(fields=["state", "next_try_at"], name="mail_to_send"),
            models.Index(fields=["who", "state"], name="mail_stuck"),
            models.Index(fields=["created_at"], name="mail_by_day"),
        ]
        constraints = [one_of("state", STATES, "mail_state_known")]


class Attachment(models.Model):
    """A file that goes along; its content lies in the files' folder under its digest."""

    message = models.ForeignKey(Message, on_delete=models.CASCADE, related_name="attachments")
    name = models.CharField(max_length=120)
    media_type = models.CharField(max_length=80)
    size = models.PositiveIntegerField()
    digest = models.CharField(max_length=64)

    class Meta:
        ordering = ["pk"]


class Mailbox(models.Model):
    """A mailbox that is read over IMAP, and how far: ``last_uid`` counts within ``uid_validity`` (RFC 3501, 2.3.1.1).

    ``name`` is who signs in at ``server`` (one of those in the settings; empty: the house's own box, of the settings).
    ``owner``: whose it is; a shared one is nobody's. ``sealed``: the password, sealed with a key outside the database.
    ``since``: the moment from which it is read. Of a person's also the folder of what they sent is read, ``sent_name``
    where one was found, with a count of its own.
    """

    name = models.CharField(max_length=254)
    server = models.CharField(max_length=120, blank=True)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True, related_name="+"
    )
    sealed = models.TextField(blank=True)
    retired_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)
    uid_validity = models.PositiveBigIntegerField(default=0)
    last_uid = models.PositiveBigIntegerField(default=0)
    since = models.DateTimeField(default=timezone.now)
    sent_name = models.CharField(max_length=254, blank=True)
    sent_validity = models.PositiveBigIntegerField(default=0)
    sent_uid = models.PositiveBigIntegerField(default=0)
    looked_at = models.DateTimeField(null=True)
    fault = models.CharField(max_length=300, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["server", "name"], name="mailbox_stands_once")
        ]


#: Somebody unknown wrote; a person made a contact or a lead of them, and their mails are fetched; they were let go.
OFFERED, AS_CONTACT, AS_LEAD = "offered", "contact", "lead"
STRANGER_STATES = (OFFERED, AS_CONTACT, AS_LEAD, LET_GO)


class Stranger(models.Model):
    """Somebody unknown who wrote to the house, until a person says who they are. Their mails stay in the mailbox.

    ``mark`` is the digest of the address: where they are let go, nothing else is kept. ``uids``: their mails, the oldest
    first, within ``uid_validity``. ``customer``: the one whose people write from the same domain.
    """

    mailbox = models.ForeignKey(Mailbox, on_delete=models.CASCADE, related_name="+")
    mark = models.CharField(max_length=64)
    name = models.CharField(max_length=120, blank=True)
    address = models.CharField(max_length=254, blank=True)
    subject = models.CharField(max_length=300, blank=True)
    uid_validity = models.PositiveBigIntegerField()
    uids = models.JSONField(default=list)
    wrote_at = models.DateTimeField()
    customer = models.ForeignKey(Customer, on_delete=models.SET_NULL, null=True, related_name="+")
    state = models.CharField(max_length=10, default=OFFERED)
    who = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    lead = models.ForeignKey(Lead, on_delete=models.CASCADE, null=True, related_name="+")
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["-wrote_at", "-pk"]
        indexes = [models.Index(fields=["state", "wrote_at"], name="stranger_state")]
        constraints = [
            one_of("state", STRANGER_STATES, "stranger_state_known"),
            models.UniqueConstraint(fields=["mailbox", "mark"], name="stranger_stands_once"),
        ]


#: A mail came as words alone; laid out; laid out with pictures that lie elsewhere.
PLAIN, LAID_OUT, WITH_PICTURES = "", "words", "pictures"
LAYOUTS = (PLAIN, LAID_OUT, WITH_PICTURES)


class Received(models.Model):
    """A mail of a customer: kept where its writer is a known contact, or where it answers one of ours (``answers``).

    ``mark`` is its Message-ID, or the digest of the whole where it has none: a box that counts anew brings it no
    second time. ``markup``: the HTML as it came, where it came as such, never to be shown before it is cleaned
    (``apps.mail.showing``); ``layout``: whether there is any, and whether it has pictures that lie elsewhere. ``thread``: the Message-IDs that it names, the nearest last. ``left_out`` counts files beyond the most
    that are kept; ``automatic``: a machine wrote it. ``says``: what it says to an offer (``routecore.reading.answers``),
    empty where it says nothing to one. ``settled_at``: it waits for no answer since; ``settled_by``: who said so, nobody
    where no person has to.
    """

    mailbox = models.ForeignKey(Mailbox, on_delete=models.PROTECT, related_name="+")
    mark = models.CharField(max_length=254)
    sender_name = models.CharField(max_length=120, blank=True)
    sender = models.CharField(max_length=254)
    subject = models.CharField(max_length=300, blank=True)
    text = models.TextField(blank=True)
    markup = models.TextField(blank=True)
    layout = models.CharField(max_length=8, blank=True)
    thread = models.JSONField(default=list)
    automatic = models.BooleanField(default=False)
    says = models.JSONField(default=dict)
    settled_at = models.DateTimeField(null=True)
    settled_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    version = models.PositiveIntegerField(default=1)
    left_out = models.PositiveIntegerField(default=0)
    written_at = models.DateTimeField()
    received_at = models.DateTimeField()
    answers = models.ForeignKey(
        Message, on_delete=models.SET_NULL, null=True, related_name="answered_by"
    )
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="received_mails")
    contact = models.ForeignKey(Contact, on_delete=models.SET_NULL, null=True, related_name="+")
    deal = models.ForeignKey(
        Deal, on_delete=models.SET_NULL, null=True, related_name="received_mails"
    )
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, null=True, related_name="+")
    order = models.ForeignKey(Order, on_delete=models.PROTECT, null=True, related_name="+")
    invoice = models.ForeignKey(Invoice, on_delete=models.PROTECT, null=True, related_name="+")

    class Meta:
        ordering = ["-pk"]
        constraints = [
            models.UniqueConstraint(fields=["mailbox", "mark"], name="each_mail_comes_in_once"),
            one_of("layout", LAYOUTS, "mail_layout_known"),
        ]
        indexes = [
            models.Index(fields=["settled_at", "customer"], name="mail_waits"),
            models.Index(fields=["written_at"], name="mail_came_by_day"),
        ]


class ReceivedFile(models.Model):
    """A file that came along; its content lies in the files' folder under its digest."""

    received = models.ForeignKey(Received, on_delete=models.CASCADE, related_name="files")
    name = models.CharField(max_length=120)
    media_type = models.CharField(max_length=80)
    size = models.PositiveIntegerField()
    digest = models.CharField(max_length=64)

    class Meta:
        ordering = ["pk"]


class Signature(models.Model):
    """What a person's mails end with, and under which address they write; without one the house's, answered to theirs."""

    person = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="signature"
    )
    text = models.CharField(max_length=1000, blank=True)


class Wording(models.Model):
    """An edition of the words for a kind of mail in a language: the house's, or with an ``owner`` one's own beside them.

    The newest edition counts; an edition without words takes them back: then what was before one's own, or what the
    product ships with.
    """

    kind = models.CharField(max_length=12)
    language = models.CharField(max_length=2)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True, related_name="wordings"
    )
    subject = models.CharField(max_length=200, blank=True)
    body = models.TextField(blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["kind", "language", "owner"], name="wording_by_kind")]
