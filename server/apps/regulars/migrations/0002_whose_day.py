"""Whose customer a day is of, and how often was bought what is not bought any more."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0011_told_anew'),
        ('regulars', '0001_initial'),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='customerday',
            name='customer_day_verdict',
        ),
        migrations.RemoveIndex(
            model_name='customerday',
            name='customer_day_stopped',
        ),
        migrations.RemoveField(
            model_name='customerday',
            name='stopped_count',
        ),
        migrations.AddField(
            model_name='customerday',
            name='stopped_purchases',
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='customerday',
            name='whose_id',
            field=models.PositiveBigIntegerField(default=0, editable=False),
        ),
        migrations.AddIndex(
            model_name='customerday',
            index=models.Index(fields=['verdict', 'whose_id', 'customer'], name='customer_day_verdict'),
        ),
        migrations.AddIndex(
            model_name='customerday',
            index=models.Index(fields=['at_limit', 'whose_id', 'customer'], name='customer_day_limit'),
        ),
        migrations.AddIndex(
            model_name='customerday',
            index=models.Index(fields=['overdue', 'whose_id', 'customer'], name='customer_day_overdue'),
        ),
        migrations.AddIndex(
            model_name='customerday',
            index=models.Index(fields=['due', 'whose_id', 'customer'], name='customer_day_due'),
        ),
        migrations.AddIndex(
            model_name='customerday',
            index=models.Index(fields=['stopped_purchases', 'whose_id', 'customer'], name='customer_day_stopped'),
        ),
        migrations.RunSQL(
            "UPDATE regulars_customerday SET stopped_purchases = "
            "COALESCE(JSON_VALUE(stopped, '$[0].purchases'), 0)",
            migrations.RunSQL.noop,
        ),
    ]
