"""Records for the demo and the tests. Seeded by the caller; nothing here is random by itself."""

from datetime import timedelta
from decimal import Decimal

from django.utils import timezone
import factory
from factory.django import DjangoModelFactory

from apps.catalogue.models import (
    Item,
    ItemGroup,
    ItemUnit,
    PriceEntry,
    PriceList,
    TaxCategory,
    TaxComponent,
    Unit,
)
from apps.customers.models import Address, Contact, Customer
from apps.deals.models import OPEN, Deal, Stage
from apps.ledger.models import Allocation, Invoice, Payment
from apps.people.models import REP, Team, User


class TeamFactory(DjangoModelFactory[Team]):
    """A team."""

    class Meta:
        model = Team
        django_get_or_create = ("name",)

    name = "Orchard patch"


class UserFactory(DjangoModelFactory[User]):
    """A person; ``password`` is the stored hash, by default one that nobody can sign in with."""

    class Meta:
        model = User
        django_get_or_create = ("username",)

    username = factory.Sequence(lambda n: f"person{n}")
    first_name = "Robin"
    last_name = factory.Sequence(lambda n: f"Tester{n}")
    email = factory.LazyAttribute(lambda o: f"{o.username}@quillfen.example")
    role = REP
    team = factory.SubFactory(TeamFactory)
    may_see_margin = True
    password = "!"  # noqa: S105 - a hash that no password has


class UnitFactory(DjangoModelFactory[Unit]):
    """A unit."""

    class Meta:
        model = Unit
        django_get_or_create = ("code",)

    code = "H87"
    name = "piece"


class TaxCategoryFactory(DjangoModelFactory[TaxCategory]):
    """A tax category with one component, or none where ``percent`` is None."""

    class Meta:
        model = TaxCategory
        django_get_or_create = ("code",)
        skip_postgeneration_save = True

    code = "standard"
    name = "Standard rate"

    @factory.post_generation
    def percent(self, create: bool, given: str | None, **_: object) -> None:
        """The rate of its component; ``""`` for a category without tax."""
        if create and given != "" and isinstance(self, TaxCategory):
            TaxComponent.objects.get_or_create(
                category=self, position=1, defaults={"name": "VAT", "percent": given or "20"}
            )


class ItemGroupFactory(DjangoModelFactory[ItemGroup]):
    """A group of items."""

    class Meta:
        model = ItemGroup
        django_get_or_create = ("code",)

    code = "posts"
    name = "Posts and anchors"


class ItemFactory(DjangoModelFactory[Item]):
    """An item by the piece."""

    class Meta:
        model = Item
        django_get_or_create = ("code",)

    code = factory.Sequence(lambda n: f"ITEM-{n:03d}")
    name = factory.LazyAttribute(lambda o: f"Thing {o.code}")
    group = factory.SubFactory(ItemGroupFactory)
    base_unit = factory.SubFactory(UnitFactory)
    sales_unit = factory.SelfAttribute("base_unit")
    tax_category = factory.SubFactory(TaxCategoryFactory)
    cost = Decimal("6.00")


class ItemUnitFactory(DjangoModelFactory[ItemUnit]):
    """Another unit of an item."""

    class Meta:
        model = ItemUnit

    factor = Decimal(1)


class PriceListFactory(DjangoModelFactory[PriceList]):
    """The base list unless named otherwise."""

    class Meta:
        model = PriceList
        django_get_or_create = ("code",)

    code = "base"
    name = "Base list"
    currency = "EUR"


class PriceEntryFactory(DjangoModelFactory[PriceEntry]):
    """A price of an item on a list."""

    class Meta:
        model = PriceEntry

    price_list = factory.SubFactory(PriceListFactory)
    unit = factory.SelfAttribute("item.base_unit")
    price = Decimal("10.00")


class StageFactory(DjangoModelFactory[Stage]):
    """A stage."""

    class Meta:
        model = Stage
        django_get_or_create = ("code",)

    code = "spotted"
    name = "Spotted"
    position = 1
    probability_percent = Decimal(10)
    outcome = OPEN


class CustomerFactory(DjangoModelFactory[Customer]):
    """A customer on the base list, net 30 days, with a limit of 50 000."""

    class Meta:
        model = Customer

    number = factory.Sequence(lambda n: f"T-{n:04d}")
    name = factory.Sequence(lambda n: f"Grower {n}")
    owner = factory.SubFactory(UserFactory)
    price_list = factory.SubFactory(PriceListFactory)
    currency = factory.SelfAttribute("price_list.currency")
    payable_step = Decimal("0.01")
    credit_limit = Decimal(50000)


class ContactFactory(DjangoModelFactory[Contact]):
    """A person at a customer."""

    class Meta:
        model = Contact

    customer = factory.SubFactory(CustomerFactory)
    name = "Maren Holt"
    role = "orchard manager"
    email = "maren.holt@grower.example"
    phone = "+44 1632 960 201"


class AddressFactory(DjangoModelFactory[Address]):
    """An invoice address."""

    class Meta:
        model = Address

    customer = factory.SubFactory(CustomerFactory)
    kind = "invoice"
    street = "1 Orchard Lane"
    postcode = "QF2 1AA"
    town = "Marrow Vale"
    country = "QF"


class DealFactory(DjangoModelFactory[Deal]):
    """An open deal, to be decided in two weeks."""

    class Meta:
        model = Deal

    title = "New frost line"
    customer = factory.SubFactory(CustomerFactory)
    owner = factory.SelfAttribute("customer.owner")
    stage = factory.SubFactory(StageFactory)
    estimate = Decimal("1000.00")
    decision_on = factory.LazyFunction(lambda: timezone.localdate() + timedelta(days=14))


class InvoiceFactory(DjangoModelFactory[Invoice]):
    """An invoice in the customer's currency, due after the customer's terms."""

    class Meta:
        model = Invoice

    number = factory.Sequence(lambda n: f"INV-T{n:05d}")
    customer = factory.SubFactory(CustomerFactory)
    on = factory.LazyFunction(timezone.localdate)
    due_on = factory.LazyAttribute(lambda o: o.on + timedelta(days=o.customer.terms_days))
    currency = factory.SelfAttribute("customer.currency")
    gross = Decimal("120.00")
    net = factory.LazyAttribute(lambda o: (o.gross / Decimal("1.2")).quantize(Decimal("0.01")))


class PaymentFactory(DjangoModelFactory[Payment]):
    """A payment."""

    class Meta:
        model = Payment

    number = factory.Sequence(lambda n: f"PAY-T{n:05d}")
    customer = factory.SubFactory(CustomerFactory)
    on = factory.LazyFunction(timezone.localdate)
    currency = factory.SelfAttribute("customer.currency")
    amount = Decimal("120.00")


class AllocationFactory(DjangoModelFactory[Allocation]):
    """A payment settles an invoice."""

    class Meta:
        model = Allocation

    amount = factory.SelfAttribute("payment.amount")
