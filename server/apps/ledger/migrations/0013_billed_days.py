"""What was billed on a day, of whom: added up where it is read."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('ledger', '0012_revenue_of_a_person'),
    ]

    operations = [
        migrations.CreateModel(
            name='BilledDay',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('on', models.DateField()),
                ('whose_id', models.PositiveBigIntegerField()),
                ('net', models.DecimalField(db_default=0, decimal_places=4, editable=False, max_digits=20)),
            ],
            options={
                'indexes': [models.Index(fields=['whose_id', 'on', 'net'], name='billed_day_of_a_person')],
                'constraints': [models.UniqueConstraint(fields=('on', 'whose_id'), name='billed_day_once')],
            },
        ),
    ]
