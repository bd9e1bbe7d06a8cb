"""The templates of the quote on paper: editions, a trial as PDF, a way back."""

from datetime import datetime
from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import Field, StringConstraints

from api.schemas import Schema
from api.shapes import Id, who
from apps.papers.editions import go_back, save_edition, template_from, template_of, try_template
from apps.papers.look import COLUMNS, FACTS, PAPERS, SENTENCES, SIZES, shipped
from apps.papers.models import TemplateEdition
from apps.papers.words import LANGUAGES
from apps.people.access import keeps_prices
from apps.quotes.documents import sample_document

router = Router(tags=["papers"])
Paper = Literal["short", "detailed"]
Sentence = Annotated[str, StringConstraints(max_length=1000)]
Few = Annotated[str, StringConstraints(max_length=20)]


class LookShape(Schema):
    """What is set without code."""

    accent: Few
    size: Few
    columns: Annotated[list[Few], Field(max_length=10)]
    trail: bool
    tax_rows: bool
    route: bool
    signature: bool


class EditionOut(Schema):
    """An edition; number 0 is the one that ships."""

    number: int
    saved_by: str
    saved_at: datetime | None
    remark: str
    look: LookShape
    wording: dict[str, dict[str, str]]
    source: str


class PaperOut(Schema):
    """A paper with its editions, the newest first; the first of them counts."""

    paper: str
    editions: list[EditionOut]


class PapersOut(Schema):
    """The papers, and what can be chosen and worded on them."""

    papers: list[PaperOut]
    columns: list[str]
    sizes: list[str]
    sentences: list[str]
    facts: list[str]
    shipped_words: dict[str, dict[str, str]]
    shipped_layout: str


@router.get("/papers", response=PapersOut, operation_id="list_papers")
def papers(request: HttpRequest) -> PapersOut:
    """Every paper with its last 50 editions. One query a paper."""
    keeps_prices(who(request), "papers")
    return PapersOut(
        papers=[PaperOut(paper=paper, editions=_editions(paper)) for paper in PAPERS],
        columns=list(COLUMNS),
        sizes=list(SIZES),
        sentences=list(SENTENCES),
        facts=list(FACTS),
        shipped_words={
            code: {key: language.words[key] for key in SENTENCES}
            for code, language in LANGUAGES.items()
        },
        shipped_layout=shipped("short").layout(),
    )


def _editions(paper: str) -> list[EditionOut]:
    rows = TemplateEdition.objects.filter(paper=paper).select_related("saved_by")[:50]
    first = shipped(paper)
    return [
        *(_edition(row) for row in rows),
        EditionOut(
            number=0,
            saved_by="",
            saved_at=None,
            remark="As shipped",
            look=LookShape(**first.look.as_data()),
            wording={},
            source="",
        ),
    ]


def _edition(row: TemplateEdition) -> EditionOut:
    template = template_of(row)
    return EditionOut(
        number=row.number,
        saved_by=row.saved_by.name,
        saved_at=row.saved_at,
        remark=row.remark,
        look=LookShape(**template.look.as_data()),
        wording=template.wording,
        source=template.source,
    )


class TemplateIn(Schema):
    """A template as it is being changed."""

    look: LookShape
    wording: Annotated[dict[Few, dict[Few, Sentence]], Field(max_length=5)] = {}
    source: Annotated[str, StringConstraints(max_length=60_000)] = ""


class TrialIn(TemplateIn):
    """A template to try: on which quote, in which language."""

    revision_id: Id | None = None
    language: Few = "en"


class TrialOut(Schema):
    """The pages as PNG pictures, in base64."""

    pages: list[str]


@router.post("/papers/trial", response=TrialOut, operation_id="try_paper")
def trial(request: HttpRequest, data: TrialIn) -> TrialOut:
    """The template on a quote, to look at; nothing is kept."""
    person = who(request)
    keeps_prices(person, "papers")
    template = template_from(data.look.model_dump(), data.wording, data.source)
    sample = sample_document(data.revision_id)
    return TrialOut(pages=try_template(person, template, sample, data.language))


class EditionIn(TemplateIn):
    """A new edition, made from the one numbered ``based_on``."""

    based_on: Annotated[int, Field(ge=0, lt=2**31)]
    remark: Annotated[str, StringConstraints(max_length=200)] = ""


@router.post("/papers/{paper}", response={201: EditionOut}, operation_id="save_paper")
def save(request: HttpRequest, paper: Paper, data: EditionIn) -> Status[EditionOut]:
    """Keep a new edition; 409 where somebody kept one meanwhile."""
    person = who(request)
    keeps_prices(person, "papers")
    template = template_from(data.look.model_dump(), data.wording, data.source)
    made = save_edition(
        person, paper, data.based_on, template, data.remark, sample=sample_document()
    )
    return Status(201, _edition(made))


class BackIn(Schema):
    """The edition to go back to, and the one that counts now."""

    based_on: Annotated[int, Field(ge=0, lt=2**31)]
    to: Annotated[int, Field(ge=0, lt=2**31)]


@router.post("/papers/{paper}/back", response={201: EditionOut}, operation_id="paper_back")
def back(request: HttpRequest, paper: Paper, data: BackIn) -> Status[EditionOut]:
    """An earlier edition again, as the newest."""
    made = go_back(who(request), paper, data.based_on, data.to, sample=sample_document())
    return Status(201, _edition(made))
