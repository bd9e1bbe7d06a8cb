"""Customers, contacts and addresses are changed, retired, merged; marks tell likely doubles."""

from collections.abc import Iterable
from typing import Any

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


from routecore.likeness import mail_domain, name_keys, phone_key


def mark_all(apps: Any, _schema: Any) -> None:
    """The marks of the customers that are there, a few hundred at a time."""
    customers, marks = apps.get_model("customers", "Customer"), apps.get_model("customers", "Mark")
    rows = customers.objects.order_by("pk").prefetch_related("contacts")
    batch: list[Any] = []
    for row in rows.iterator(chunk_size=500):
        batch += [marks(customer_id=row.pk, kind=kind, key=key) for kind, key in sorted(_of(row))]
        if len(batch) > 2000:
            marks.objects.bulk_create(batch)
            batch = []
    marks.objects.bulk_create(batch)


def _of(row: Any) -> Iterable[tuple[str, str]]:
    found = {("name", key) for key in name_keys(row.name)}
    tax = "".join(sign for sign in row.tax_number.upper() if sign.isascii() and sign.isalnum())
    found.add(("tax", tax))
    for person in row.contacts.all():
        found |= {("domain", mail_domain(person.email)[:80]), ("phone", phone_key(person.phone))}
    return {(kind, key) for kind, key in found if key}


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0007_kept_names'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='address',
            name='retired_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='address',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name='contact',
            name='retired_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='contact',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name='customer',
            name='merged_into',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='merged', to='customers.customer'),
        ),
        migrations.AddField(
            model_name='customer',
            name='retired_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.CreateModel(
            name='Mark',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(max_length=6)),
                ('key', models.CharField(max_length=80)),
                ('customer', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='marks', to='customers.customer')),
            ],
            options={
                'indexes': [models.Index(fields=['kind', 'key', 'customer'], name='customer_by_mark')],
            },
        ),
        migrations.CreateModel(
            name='Merge',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField()),
                ('before', models.JSONField(default=dict)),
                ('after', models.JSONField(default=dict)),
                ('moved', models.JSONField(default=dict)),
                ('undone_at', models.DateTimeField(null=True)),
                ('gone', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='customers.customer')),
                ('kept', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='customers.customer')),
                ('who', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'constraints': [models.CheckConstraint(condition=models.Q(('kept', models.F('gone')), _negated=True), name='merge_of_two')],
            },
        ),
        migrations.RunPython(mark_all, migrations.RunPython.noop),
    ]
