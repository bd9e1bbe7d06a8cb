"""The web server's way in."""

import gc
import os
import sys

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()
# What is loaded now stays: full collections need not walk it, and come less often. One of them would
# otherwise fall into every tenth price while somebody types.
gc.collect()
gc.freeze()
gc.set_threshold(20_000, 20, 50)
# A price that is asked for while one types waits ten times for the database, and each time then for its turn beside a
# page that computes: half a millisecond at most, instead of five.
sys.setswitchinterval(0.0005)
