"""A price of a customer once. Of those saved twice at the same moment, the later one stays."""

import datetime
import django.db.models.functions.comparison
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0004_versions_and_uniqueness'),
        ('customers', '0004_further_terms'),
        ('prices', '0002_credit'),
    ]

    operations = [
        migrations.RunSQL(
            """
            DELETE older FROM prices_customerprice AS older JOIN prices_customerprice AS newer
              ON newer.customer_id = older.customer_id AND newer.item_id = older.item_id AND newer.unit_id = older.unit_id AND newer.currency = older.currency AND newer.from_quantity = older.from_quantity
              AND newer.valid_from <=> older.valid_from AND newer.id > older.id
            """,
            migrations.RunSQL.noop,
        ),
        migrations.AddField(
            model_name='customerprice',
            name='from_day',
            field=models.GeneratedField(db_persist=True, expression=django.db.models.functions.comparison.Coalesce(models.F('valid_from'), models.Value(datetime.date(1, 1, 1))), output_field=models.DateField()),
        ),
        migrations.AddConstraint(
            model_name='customerprice',
            constraint=models.UniqueConstraint(fields=('customer', 'item', 'unit', 'currency', 'from_quantity', 'from_day'), name='customer_price_once'),
        ),
    ]
