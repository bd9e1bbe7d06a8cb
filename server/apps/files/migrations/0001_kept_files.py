"""Files beside records."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0008_by_day'),
        ('orders', '0020_whole_or_in_parts'),
        ('quotes', '0018_parts_of_offers'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='KeptFile',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=120)),
                ('media_type', models.CharField(max_length=80)),
                ('size', models.PositiveIntegerField()),
                ('digest', models.CharField(max_length=64)),
                ('line_key', models.CharField(blank=True, max_length=36)),
                ('with_paper', models.BooleanField(default=False)),
                ('added_at', models.DateTimeField()),
                ('removed_at', models.DateTimeField(null=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('added_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('customer', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='files', to='customers.customer')),
                ('deal', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='files', to='deals.deal')),
                ('order', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='files', to='orders.order')),
                ('revision', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='files', to='quotes.revision')),
            ],
            options={
                'ordering': ['pk'],
                'constraints': [models.CheckConstraint(condition=models.Q(('pk__in', []), models.Q(('customer__isnull', False), ('deal__isnull', True), ('order__isnull', True), ('revision__isnull', True)), models.Q(('customer__isnull', True), ('deal__isnull', False), ('order__isnull', True), ('revision__isnull', True)), models.Q(('customer__isnull', True), ('deal__isnull', True), ('order__isnull', True), ('revision__isnull', False)), models.Q(('customer__isnull', True), ('deal__isnull', True), ('order__isnull', False), ('revision__isnull', True)), _connector='OR'), name='kept_file_in_one_place')],
            },
        ),
    ]
