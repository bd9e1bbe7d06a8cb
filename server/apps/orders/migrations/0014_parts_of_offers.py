"""An order takes a part of an offer, or of several; what it took of each is kept."""

import django.db.models.deletion
from django.db import migrations, models

BATCH = 1000


def note_what_was_taken(apps, schema_editor):
    """Every order so far took one offer whole."""
    order, acceptance = (apps.get_model("orders", name) for name in ("Order", "Acceptance"))
    rows = order.objects.order_by("pk").values_list(
        "pk", "revision_id", "lines_net", "document_discount", "charges"
    )
    made = []
    for pk, revision, lines_net, discount, charges in rows.iterator(chunk_size=BATCH):
        amounts = [row["amount"] for row in charges]
        made.append(
            acceptance(
                order_id=pk,
                revision_id=revision,
                lines_net=lines_net,
                discount=discount,
                charges=amounts,
            )
        )
        if len(made) == BATCH:
            acceptance.objects.bulk_create(made)
            made = []
    acceptance.objects.bulk_create(made)


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0013_places'),
        ('quotes', '0018_parts_of_offers'),
    ]

    operations = [
        migrations.AddField(
            model_name='orderline',
            name='delivery_address',
            field=models.JSONField(null=True),
        ),
        migrations.AlterField(
            model_name='order',
            name='revision',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='orders', to='quotes.revision'),
        ),
        migrations.AlterField(
            model_name='orderline',
            name='quote_line',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='order_lines', to='quotes.quoteline'),
        ),
        migrations.CreateModel(
            name='Acceptance',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('lines_net', models.DecimalField(decimal_places=3, max_digits=18)),
                ('discount', models.DecimalField(decimal_places=3, max_digits=18)),
                ('charges', models.JSONField(default=list)),
                ('changed_at', models.DateTimeField(auto_now=True)),
                ('order', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='acceptances', to='orders.order')),
                ('revision', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='acceptances', to='quotes.revision')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('order', 'revision'), name='acceptance_once')],
            },
        ),
        migrations.RunPython(note_what_was_taken, migrations.RunPython.noop),
    ]
