"""The application driven as a user drives it, in headless Chromium against a live server."""

import os

# Playwright's synchronous interface runs a loop of its own, which Django would mistake for an async view.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
