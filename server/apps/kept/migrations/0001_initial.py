"""Proofs of kept figures."""
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
    ]

    operations = [
        migrations.CreateModel(
            name='Proof',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField()),
                ('wrong', models.JSONField(default=dict)),
            ],
            options={
                'ordering': ['-at', '-pk'],
            },
        ),
    ]
