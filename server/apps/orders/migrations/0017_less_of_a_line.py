"""Less of a line may be wanted than was ordered at first; goods that came back."""

import django.db.models.deletion
from decimal import Decimal
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0006_kept_figures'),
        ('orders', '0016_leaving'),
        ('prices', '0004_kept_cases'),
        ('quotes', '0018_parts_of_offers'),
        ('stock', '0002_reported'),
    ]

    operations = [
        migrations.CreateModel(
            name='Return',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.CharField(max_length=30, unique=True)),
                ('on', models.DateField()),
                ('reason', models.CharField(blank=True, max_length=300)),
            ],
        ),
        migrations.CreateModel(
            name='ReturnLine',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('quantity', models.DecimalField(decimal_places=6, max_digits=18)),
            ],
        ),
        migrations.RemoveConstraint(
            model_name='orderline',
            name='order_line_quantity_positive',
        ),
        migrations.AddField(
            model_name='orderline',
            name='first_quantity',
            field=models.DecimalField(decimal_places=6, max_digits=18, null=True),
        ),
        migrations.AddConstraint(
            model_name='orderline',
            constraint=models.CheckConstraint(condition=models.Q(('quantity__gte', 0)), name='order_line_quantity_not_negative'),
        ),
        migrations.AddField(
            model_name='return',
            name='order',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='returns', to='orders.order'),
        ),
        migrations.AddField(
            model_name='returnline',
            name='back',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='lines', to='orders.return'),
        ),
        migrations.AddField(
            model_name='returnline',
            name='order_line',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='return_lines', to='orders.orderline'),
        ),
        migrations.AddConstraint(
            model_name='returnline',
            constraint=models.CheckConstraint(condition=models.Q(('quantity__gt', Decimal('0'))), name='return_quantity_positive'),
        ),
        migrations.AddConstraint(
            model_name='returnline',
            constraint=models.UniqueConstraint(fields=('back', 'order_line'), name='return_line_once'),
        ),
    ]
