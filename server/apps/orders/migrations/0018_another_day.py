"""The day of a line is another now than was promised."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0017_less_of_a_line'),
    ]

    operations = [
        migrations.CreateModel(
            name='Outlook',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('leaves_on', models.DateField(null=True)),
                ('arrives_on', models.DateField(null=True)),
                ('since', models.DateTimeField()),
                ('order_line', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='outlook', to='orders.orderline')),
            ],
        ),
    ]
