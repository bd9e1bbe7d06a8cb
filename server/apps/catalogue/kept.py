"""In which order the entries of the price lists stand."""

from apps.kept.figures import Kept, Source, declare

ENTRIES = declare(
    Kept(
        table="catalogue_priceentry",
        figures={
            "list_code": "SELECT l.code FROM catalogue_pricelist l WHERE l.id = {row}.price_list_id",
            "item_code": "SELECT i.code FROM catalogue_item i WHERE i.id = {row}.item_id",
        },
        sources=(
            Source(
                table="catalogue_pricelist",
                rows="price_list_id = {row}.id",
                columns=("code",),
                lasting=True,
            ),
            Source(
                table="catalogue_item", rows="item_id = {row}.id", columns=("code",), lasting=True
            ),
        ),
    )
)
