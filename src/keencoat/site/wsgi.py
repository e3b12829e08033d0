"""The WSGI entry point that our web processes serve."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "keencoat.site.settings")

application = get_wsgi_application()
