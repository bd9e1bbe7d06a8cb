"""The API under ``/api/``; every other address is the application's page."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import path, re_path
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from api.buyer_page import buyer_file, buyer_page, buyer_pdf
from api.calendars import feed_page
from api.root import api
from config.build import build_mark


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The single page; its own router reads the address."""
    return render(request, "index.html", {"build": build_mark()})


handler404 = "api.errors.nowhere"
#: What breaks outside an operation, as while the session is read, is answered in the one form as well.
handler500 = "api.errors.broken"
urlpatterns = [
    path("api/", api.urls),
    path("b/<str:token>", buyer_page),
    path("b/<str:token>/pdf", buyer_pdf),
    path("b/<str:token>/files/<int:pk>", buyer_file),
    path("c/<str:token>.ics", feed_page),
    re_path(r"^(?!api/|static/).*$", page),
]
