"""The web server's way in."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()
# What is loaded now stays: full collections need not walk it, and come less often. One of them would
# otherwise fall into every tenth price while somebody types.
gc.collect()
gc.freeze()
gc.set_threshold(20_000, 20, 50)
