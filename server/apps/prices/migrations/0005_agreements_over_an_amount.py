"""Agreements over an amount of money."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0006_kept_figures'),
        ('customers', '0011_told_anew'),
        ('prices', '0004_kept_cases'),
    ]

    operations = [
        migrations.AddField(
            model_name='agreement',
            name='amount',
            field=models.DecimalField(decimal_places=3, max_digits=18, null=True),
        ),
        migrations.AddConstraint(
            model_name='agreement',
            constraint=models.CheckConstraint(condition=models.Q(('amount__isnull', True), ('amount__gt', 0), _connector='OR'), name='agreement_amount_positive'),
        ),
    ]
