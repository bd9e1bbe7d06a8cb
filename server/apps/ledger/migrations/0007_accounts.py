"""What the back office says is open of each customer, and whether ours comes to it."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0011_told_anew'),
        ('ledger', '0006_told_anew'),
    ]

    operations = [
        migrations.CreateModel(
            name='Account',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('told', models.JSONField()),
                ('told_at', models.DateTimeField()),
                ('whole', models.JSONField(null=True)),
                ('ours', models.JSONField(null=True)),
                ('checked_at', models.DateTimeField(null=True)),
                ('differs_since', models.DateTimeField(null=True)),
                ('customer', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='account', to='customers.customer')),
            ],
            options={
                'indexes': [models.Index(fields=['checked_at'], name='account_to_check'), models.Index(fields=['differs_since'], name='account_differs')],
            },
        ),
    ]
