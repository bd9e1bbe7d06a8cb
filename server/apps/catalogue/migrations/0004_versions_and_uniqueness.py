"""A version for each; a price once. Of those saved twice at the same moment, the later one stays."""

import datetime
import django.db.models.functions.comparison
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0003_reason_de'),
    ]

    operations = [
        migrations.RunSQL(
            """
            DELETE older FROM catalogue_priceentry AS older JOIN catalogue_priceentry AS newer
              ON newer.price_list_id = older.price_list_id AND newer.item_id = older.item_id AND newer.unit_id = older.unit_id AND newer.from_quantity = older.from_quantity
              AND newer.valid_from <=> older.valid_from AND newer.id > older.id
            """,
            migrations.RunSQL.noop,
        ),
        migrations.AddField(
            model_name='exchangerate',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name='item',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name='priceentry',
            name='from_day',
            field=models.GeneratedField(db_persist=True, expression=django.db.models.functions.comparison.Coalesce(models.F('valid_from'), models.Value(datetime.date(1, 1, 1))), output_field=models.DateField()),
        ),
        migrations.AddField(
            model_name='priceentry',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name='pricelist',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name='taxcategory',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddConstraint(
            model_name='priceentry',
            constraint=models.UniqueConstraint(fields=('price_list', 'item', 'unit', 'from_quantity', 'from_day'), name='entry_once'),
        ),
    ]
