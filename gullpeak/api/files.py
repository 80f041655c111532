"""Files in and out. A file is read first, shown with what it would bring, and kept only when the cook says so, whole or not at all."""

from typing import Annotated
from zoneinfo import ZoneInfo

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse, PlainTextResponse
from pydantic import Field, StringConstraints

from gullpeak.api.days import desk_of
from gullpeak.api.places import StoreOf
from gullpeak.api.problems import FieldProblem, problem
from gullpeak.app import files
from gullpeak.app.days import layout
from gullpeak.app.errors import BadFieldError
from gullpeak.app.files import Kept, TakeRequest
from gullpeak.app.products import with_batches
from gullpeak.app.stock import labelled
from gullpeak.core.plan.day import zone_of
from gullpeak.core.product import product_sheet as products
from gullpeak.core.sheet.label import LabelSheet
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.value import CalendarDate, say
from gullpeak.core.words import dates
from gullpeak.files import archive, plain, record, schema_org
from gullpeak.files.incoming import Incoming
from gullpeak.files.reader import READER, told
from gullpeak.files.reading import MOST_BYTES, UnreadableError
from gullpeak.store.here import local_zone
from gullpeak.store.records import NotFoundError
from gullpeak.store.repository import Store

# reportlab is imported where a PDF is made: it would take a third of a second of every start.
router = APIRouter(prefix="/api/files", tags=["files"])
MadeIn = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9/-]{0,400}:[a-z0-9][a-z0-9-]{0,63}$")]
PDF = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}


class PdfResponse(Response):
    """A PDF."""

    media_type = "application/pdf"


def _sent(content: bytes, name: str) -> PdfResponse:
    plain = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "-" for c in name) or "gull-peak"
    return PdfResponse(content, headers={"Content-Disposition": f'inline; filename="{plain}.pdf"'})


@router.get("/archive")
def whole_archive(store: StoreOf) -> archive.Archive:
    """Return every recipe and product, with the kitchen, as one archive."""
    return archive.pack(store.book(), store.kitchen().kitchen)


@router.get("/recipes/{recipe_id}/archive")
def recipe_archive(recipe_id: str, store: StoreOf) -> archive.Archive:
    """Return one recipe as an archive."""
    return archive.pack({recipe_id: store.recipe(recipe_id).recipe}, store.kitchen().kitchen)


@router.get("/products/{product_id}/archive")
def product_archive(product_id: str, store: StoreOf) -> archive.Archive:
    """Return a product with all its parts as an archive."""
    store.product(product_id)
    return archive.pack(archive.closure(product_id, store.book()), store.kitchen().kitchen)


@router.get("/recipes/{recipe_id}/schema-org", response_class=JSONResponse)
def recipe_schema_org(recipe_id: str, store: StoreOf) -> JSONResponse:
    """Return a recipe as a schema.org Recipe in JSON-LD."""
    content = schema_org.write(store.recipe(recipe_id).recipe, store.kitchen().kitchen)
    return JSONResponse(content, media_type="application/ld+json")


@router.get("/recipes/{recipe_id}/text", response_class=PlainTextResponse)
def recipe_text(recipe_id: str, store: StoreOf) -> PlainTextResponse:
    """Return a recipe as plain text, which can be read again."""
    return PlainTextResponse(plain.write(store.recipe(recipe_id).recipe, store.kitchen().kitchen.habits))


@router.get("/recipes/{recipe_id}/sheet", response_class=PdfResponse, responses=PDF)  # type: ignore[arg-type]
def recipe_pdf(recipe_id: str, store: StoreOf) -> PdfResponse:
    """Return a recipe's sheet as PDF."""
    from gullpeak.files import pdf

    recipe = store.recipe(recipe_id).recipe
    return _sent(pdf.recipe_sheet(recipe, work_out(recipe, store.kitchen().kitchen)), recipe.name)


@router.get("/recipes/{recipe_id}/template", response_class=PdfResponse, responses=PDF)  # type: ignore[arg-type]
def recipe_template(recipe_id: str, store: StoreOf) -> PdfResponse:
    """Return a recipe's outlines for the parchment, at true size, as PDF."""
    from gullpeak.files import template

    recipe = store.recipe(recipe_id).recipe
    if recipe.shape is None:
        raise BadFieldError("shape", say("refused.nothing-piped-spread-outline"))
    sheet = work_out(recipe, store.kitchen().kitchen)
    return _sent(
        template.template(template.of_shape(recipe.shape, sheet.pieces, f"{recipe.name}, {told(sheet.says)}")),
        f"{recipe.name}-template",
    )


@router.get("/products/{product_id}/sheet", response_class=PdfResponse, responses=PDF)  # type: ignore[arg-type]
def product_pdf(product_id: str, store: StoreOf) -> PdfResponse:
    """Return a product's sheet as PDF."""
    from gullpeak.files import pdf

    sheet = _product(product_id, store)
    return _sent(pdf.product_sheet(sheet), sheet.name)


@router.get("/products/{product_id}/label", response_class=PdfResponse, responses=PDF)  # type: ignore[arg-type]
def product_label(
    product_id: str,
    store: StoreOf,
    without: Annotated[str, Field(max_length=64)] = "",
    batch: Annotated[tuple[MadeIn, ...], Query(max_length=40)] = (),
) -> PdfResponse:
    """Return a product's label as PDF; `without` a part that is held back, or `spirit`; `batch` part:batch, as parts were made."""
    from gullpeak.files import pdf

    batches = dict(b.split(":", 1) for b in batch)
    sheet = with_batches(store.product(product_id).product, product_id, batches, store)
    made, says = _label(sheet, without)
    return _sent(
        pdf.label(sheet.name, made, says, section=sheet.assembled.section if made is sheet.label else ()), f"{sheet.name}-label"
    )


@router.get("/stock/{lot}/label", response_class=PdfResponse, responses=PDF)  # type: ignore[arg-type]
def stock_label(lot: str, store: StoreOf) -> PdfResponse:
    """Return the label of something in stock as PDF: what it is, when it was made, where it stands, its use-by and what is in it."""
    from gullpeak.files import pdf

    found, sheet = labelled(store, lot)
    return _sent(pdf.stock_label(found, sheet.label, ZoneInfo(local_zone())), f"{found.name}-label")


@router.get("/products/{product_id}/template", response_class=PdfResponse, responses=PDF)  # type: ignore[arg-type]
def product_template(product_id: str, store: StoreOf) -> PdfResponse:
    """Return a product's piping or cutting outline at true size, as PDF."""
    from gullpeak.files import template

    product = store.product(product_id).product
    outline = template.of_product(product)
    if outline is None:
        raise BadFieldError("assembly", say("refused.nothing-piped-cut-outline"))
    return _sent(template.template(outline), f"{product.name}-template")


def _product(product_id: str, store: Store) -> products.ProductSheet:
    return products.work_out(store.product(product_id).product, store.book(), store.kitchen().kitchen, product_id)


def _label(sheet: products.ProductSheet, without: str) -> tuple[LabelSheet, str]:
    if not without:
        return sheet.label, ""
    if without == "spirit" and sheet.spirit_free is not None:
        return sheet.spirit_free, "without spirit"
    held = next((h for h in sheet.held if h.part == without), None)
    if held is None:
        raise BadFieldError("without", say("refused.nothing-held-back-before", without=without))
    return held.label, f"without {held.part}, for {held.why}"


@router.post(
    "/read",
    openapi_extra={"requestBody": {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}},
)
async def read(request: Request, store: StoreOf) -> Incoming:
    """Read a brought file (archive, schema.org Recipe, a page that holds one, or a text) and say what is in it; nothing is kept yet."""
    data = b""
    async for chunk in request.stream():
        data += chunk
        if len(data) > MOST_BYTES:
            break
    # Off the loop: while one reads a large file, everybody else works on.
    return await run_in_threadpool(lambda: files.read(store, data))


@router.post("/take", status_code=201)
def take(request: TakeRequest, store: StoreOf) -> Kept:
    """Keep what was read: every entry that is new, or none of them."""
    return files.take(store, request)


def unreadable(_: Request, error: Exception) -> JSONResponse:
    """Answer a file that cannot be read, every trouble with its place."""
    assert isinstance(error, UnreadableError)
    return problem(
        422,
        "The file cannot be read",
        error.troubles[0].says,
        tuple(FieldProblem(field=t.where, says=t.says) for t in error.troubles),
    )


@router.get("/days/{of}/run-sheet", response_class=PdfResponse, responses=PDF)  # type: ignore[arg-type]
def run_sheet(of: CalendarDate, request: Request) -> PdfResponse:
    """Return the day's run sheet for the wall, as PDF."""
    from gullpeak.files import pdf

    written, laid, _ = layout(desk_of(request), of)
    return _sent(pdf.run_sheet(dates.weekday(of, READER.get()), laid, zone_of(written.day)), f"run-sheet-{of.isoformat()}")


@router.get("/days/{of}/plan.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def plan_table(of: CalendarDate, request: Request) -> Response:
    """Return the day's plan as CSV."""
    from gullpeak.files import day

    written, laid, _ = layout(desk_of(request), of)
    headers = {"Content-Disposition": f'attachment; filename="plan-{of.isoformat()}.csv"'}
    return Response(day.table(laid, zone_of(written.day)), media_type="text/csv", headers=headers)


@router.get("/days/{of}/calendar.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}})
def plan_calendar(of: CalendarDate, request: Request) -> Response:
    """Return the day's plan as a calendar, to keep or to subscribe to."""
    from gullpeak.files import day

    _, laid, _ = layout(desk_of(request), of)
    headers = {"Content-Disposition": f'inline; filename="{of.isoformat()}.ics"'}
    return Response(day.calendar(laid, of.isoformat()), media_type="text/calendar", headers=headers)


@router.get("/batches/{batch_id}/record", response_class=PdfResponse, responses=PDF)  # type: ignore[arg-type]
def batch_record(batch_id: str, store: StoreOf) -> PdfResponse:
    """Return a batch's record as PDF, for whoever inspects the kitchen."""
    return _record_pdf([batch_id], store, f"record-{batch_id}")


@router.get("/batches/{batch_id}/record.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def batch_record_table(batch_id: str, store: StoreOf) -> Response:
    """Return a batch's record as CSV."""
    return _record_csv([batch_id], store, f"record-{batch_id}")


@router.get("/log/{of}/record", response_class=PdfResponse, responses=PDF)  # type: ignore[arg-type]
def day_record(of: CalendarDate, store: StoreOf) -> PdfResponse:
    """Return the record of every batch begun on a day as PDF."""
    return _record_pdf(_begun(of, store), store, f"record-{of.isoformat()}")


@router.get("/log/{of}/record.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def day_record_table(of: CalendarDate, store: StoreOf) -> Response:
    """Return the record of every batch begun on a day as CSV."""
    return _record_csv(_begun(of, store), store, f"record-{of.isoformat()}")


def _begun(of: CalendarDate, store: Store) -> list[str]:
    found = store.begun_on(of, ZoneInfo(local_zone()))
    if not found:
        raise NotFoundError(f"batch begun on {of.isoformat()}")
    return found


def _record_pdf(ids: list[str], store: Store, name: str) -> PdfResponse:
    from gullpeak.files import pdf

    papers = files.papers(store, ids)
    return _sent(pdf.record(f"{store.kitchen().kitchen.name}: record", papers, ZoneInfo(local_zone())), name)


def _record_csv(ids: list[str], store: Store, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{"".join(c for c in name if c.isalnum() or c in "-_")}.csv"'}
    return Response(record.table(files.papers(store, ids), ZoneInfo(local_zone())), media_type="text/csv", headers=headers)
