"""The API under /api, and the browser's application everywhere else."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseBase
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from server.answers import refused
from server.api import api
from server.keeping.health import health
from server.running.failing import failed, not_understood

NONCE_HERE = "%NONCE%"


@ensure_csrf_cookie
def application_page(request: HttpRequest) -> HttpResponseBase:
    """Serve the one page whose script does the rest; every address of the application opens it."""
    page = settings.WEB_BUILD / "index.html"
    if not page.is_file():
        return HttpResponse(
            "The front end is not built yet. Run bin/demo, which builds it.",
            status=503,
            content_type="text/plain",
        )
    html = page.read_text("utf-8").replace(NONCE_HERE, str(getattr(request, "csp_nonce", "")))
    return HttpResponse(html, content_type="text/html; charset=utf-8", headers={"Cache-Control": "no-cache"})


def no_such_call(request: HttpRequest) -> HttpResponse:
    """Answer an address under /api that is none, in the shape of every refusal."""
    return refused(404, "no_such_call", f"There is no call at {request.path}. See docs/openapi.json.")


handler400 = not_understood
handler500 = failed
urlpatterns = [
    path("health", health),
    path("api/", api.urls),
    re_path(r"^api/", no_such_call),
    # Names with a dot in them are files, and a file that is not there is not the page.
    re_path(
        r"^(?!api/|static/|assets/)(?!.*\.(?:js|css|map|png|svg|webmanifest|woff2|txt|stamp)$).*$",
        application_page,
    ),
]
