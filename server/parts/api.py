"""The shop's shelf: looked at, taken in and out as CSV, cleared a part at a time."""

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from server.answers import ActionRefused, answer
from server.parts.actions.take_shelf import take_shelf
from server.parts.models import Part
from server.parts.shelf_csv import write_shelf

router = Router(tags=["parts"])


class PartOut(Schema):
    """One part: its kind's columns in mm, N/mm, N, bar and degrees, as their names say."""

    id: int
    kind: str
    name: str
    stock: int
    price: str
    source: str
    values: dict[str, float]


class Taken(Schema):
    """How many parts were taken in."""

    taken: int


@router.get("", response=list[PartOut], operation_id="listParts")
def parts(request: HttpRequest) -> HttpResponse:
    """Return the shelf, by kind and name."""
    fields = ("id", "kind", "name", "stock", "price", "source", "values")
    return answer(list(Part.objects.filter(owner=request.user).values(*fields)))


@router.post("/shelf.csv", response=Taken, operation_id="takeShelf")
def take(request: HttpRequest) -> HttpResponse:
    """Take a CSV of parts in: same kind and name renews a part, others are added."""
    return answer({"taken": take_shelf(request.user, request.body)})


@router.get("/shelf.csv", operation_id="exportShelf")
def export(request: HttpRequest) -> HttpResponse:
    """Return the whole shelf as CSV, with every heading there is."""
    text = write_shelf(list(Part.objects.filter(owner=request.user)))
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="shelf.csv"'
    return response


@router.delete("/{part_id}", response={204: None}, operation_id="removePart")
def remove(request: HttpRequest, part_id: int) -> HttpResponse:
    """Take one part off the shelf."""
    gone, _ = Part.objects.filter(owner=request.user, pk=part_id).delete()
    if not gone:
        raise ActionRefused(404, "no_part", "There is no such part on this shelf; it may be gone already.")
    return HttpResponse(status=204)
