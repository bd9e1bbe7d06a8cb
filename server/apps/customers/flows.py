"""Making customers and contacts."""

from decimal import Decimal

from django.conf import settings
from django.db import transaction

from apps.catalogue.models import PriceList
from apps.customers.marks import refresh_marks
from apps.customers.models import Address, Contact, Customer
from apps.errors import Invalid
from apps.numbering.models import Series
from apps.people.access import new_owner, owned, pick, sells
from apps.people.models import User
from routecore.pricing import BASE_LIST


@transaction.atomic
def add_customer(who: User, *, name: str, owner_id: int | None = None) -> Customer:
    """A new customer on the base list, with the house's usual terms and no credit limit yet."""
    sells(who)
    price_list = PriceList.objects.filter(code=BASE_LIST).first()
    if price_list is None:
        raise Invalid("no_base_list")
    name = _required(name, "name", "customer_name")
    (number,) = (
        next_customer_numbers()
    )  # its lock lets one new customer of a name through at a time
    same = Customer.objects.filter(name=name).first()
    if same is not None:
        facts = {"name": name, "number": same.number, "what": "own"}
        if not Customer.objects.filter(owned(who), pk=same.pk).exists():
            facts = {"name": name, "what": "others"}
        raise Invalid("already_there", path="customer.name", facts=facts)
    made = Customer.objects.create(
        number=number,
        name=name,
        owner=new_owner(who, owner_id),
        price_list=price_list,
        currency=settings.BASE_CURRENCY,
        payable_step=Decimal("0.01"),
    )
    refresh_marks([made.pk])
    return made


@transaction.atomic
def add_customer_with(
    who: User, *, name: str, contact: str = "", email: str = "", phone: str = ""
) -> Customer:
    """A new customer, and the first person there, where one is named."""
    made = add_customer(who, name=name)
    if contact.strip() or email.strip() or phone.strip():
        add_contact(who, made.pk, name=contact, email=email, phone=phone)
    return made


@transaction.atomic
def add_contact(
    who: User, customer_id: int, *, name: str, role: str = "", email: str = "", phone: str = ""
) -> Contact:
    """A new person at a customer."""
    sells(who)
    customer = pick(Customer.objects.active().filter(owned(who)), customer_id, "customer")
    made = Contact.objects.create(
        customer=customer,
        name=_required(name, "contact.name", "contact_name"),
        role=role.strip(),
        email=email.strip(),
        phone=phone.strip(),
    )
    refresh_marks([customer.pk])
    return made


@transaction.atomic
def add_address(
    who: User,
    customer_id: int,
    *,
    kind: str,
    street: str,
    postcode: str,
    town: str,
    country: str,
    label: str = "",
) -> Address:
    """A new place at a customer, for invoices or for deliveries."""
    sells(who)
    customer = pick(Customer.objects.active().filter(owned(who)), customer_id, "customer")
    return Address.objects.create(
        customer=customer,
        kind=kind,
        label=label.strip(),
        street=_required(street, "street", "address_street"),
        postcode=postcode.strip(),
        town=_required(town, "town", "address_town"),
        country=country,
    )


def _required(value: str, path: str, what: str) -> str:
    value = " ".join(value.split())
    if not value:
        raise Invalid("required", path=path, facts={"what": what})
    return value


def next_customer_numbers(many: int = 1) -> list[str]:
    """The next numbers of customers; their lock is held until the transaction ends."""
    Series.objects.get_or_create(name="C", defaults={"last": 1000})
    series = Series.objects.select_for_update().get(name="C")
    first = series.last + 1
    series.last += many
    series.save(update_fields=["last"])
    return [f"C-{n}" for n in range(first, series.last + 1)]
