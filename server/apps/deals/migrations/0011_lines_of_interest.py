"""Lines of interest: what a deal may be about before there is a quote."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0006_kept_figures'),
        ('deals', '0010_pipeline_and_reasons'),
    ]

    operations = [
        migrations.CreateModel(
            name='Interest',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('position', models.PositiveSmallIntegerField()),
                ('quantity', models.DecimalField(decimal_places=6, max_digits=18)),
                ('unit', models.CharField(max_length=3)),
                ('net', models.DecimalField(decimal_places=3, max_digits=18)),
                ('priced_on', models.DateField()),
                ('deal', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='interests', to='deals.deal')),
                ('item', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='catalogue.item')),
            ],
            options={
                'ordering': ['deal_id', 'position'],
                'constraints': [models.CheckConstraint(condition=models.Q(('quantity__gt', 0)), name='interest_quantity_positive')],
            },
        ),
    ]
