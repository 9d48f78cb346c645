"""The web server's way in."""

import gc
import os
from importlib import import_module

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
application = get_wsgi_application()
# Whoever asks first needn't wait for every room to be loaded.
import_module("server.urls")

# What is loaded now stays: the collector needn't walk it again while answers of many small
# dictionaries are being built.
gc.freeze()
gc.set_threshold(100_000, 20, 20)
