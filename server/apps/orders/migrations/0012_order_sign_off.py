"""An order of a customer on Halt is signed off before it is handed over."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0011_line_promises'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='OrderSignOff',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('mark', models.CharField(max_length=64)),
                ('reason', models.CharField(max_length=500)),
                ('reasons', models.JSONField(default=list)),
                ('asked_at', models.DateTimeField()),
                ('answer', models.CharField(blank=True, max_length=7)),
                ('answered_at', models.DateTimeField(null=True)),
                ('comment', models.CharField(blank=True, max_length=500)),
                ('open_mark', models.GeneratedField(db_persist=True, expression=models.Case(models.When(answer='', then=models.F('mark'))), output_field=models.CharField(max_length=64, null=True))),
                ('answered_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('asked_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('order', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='sign_offs', to='orders.order')),
            ],
            options={
                'indexes': [models.Index(fields=['answer'], name='order_sign_off_open')],
                'constraints': [models.CheckConstraint(condition=models.Q(('answer__in', ('', 'granted', 'refused'))), name='order_sign_off_answer_known'), models.UniqueConstraint(fields=('order', 'open_mark'), name='order_sign_off_asked_once')],
            },
        ),
    ]
