"""Document templates: kept by an administrator in editions, tried before, and a way back."""

from collections.abc import Mapping
from typing import Any

from django.db import transaction

from apps.errors import Invalid, Missing, check_version
from apps.papers.document import Document
from apps.papers.look import (
    LONGEST_SOURCE,
    PAPERS,
    Template,
    Wording,
    check_wording,
    read_look,
    shipped,
)
from apps.papers.models import TemplateEdition
from apps.papers.pdf import sample_pages
from apps.papers.words import LANGUAGES
from apps.people.access import keeps_prices
from apps.people.models import User


def current_template(paper: str) -> Template:
    """The newest edition of a paper; what ships where nobody made one. One query."""
    row = TemplateEdition.objects.filter(paper=paper).order_by("-number").first()
    return template_of(row) if row else shipped(paper)


def template_of(row: TemplateEdition) -> Template:
    """An edition as the documents use it."""
    return Template(look=read_look(row.look), wording=row.wording, source=row.source)


def template_from(look: Mapping[str, Any], wording: Wording, source: str) -> Template:
    """What an administrator typed, checked; raises ``Invalid`` with the path to the field."""
    if len(source) > LONGEST_SOURCE:
        raise Invalid("too_long", path="source", facts={"most": LONGEST_SOURCE})
    return Template(
        look=read_look(look), wording=check_wording(wording, LANGUAGES), source=source.strip()
    )


def paper_named(paper: str) -> str:
    """The paper, or ``Missing``."""
    if paper not in PAPERS:
        raise Missing("not_found", facts={"what": "paper"})
    return paper


def try_template(who: User, template: Template, sample: Document, language: str) -> list[str]:
    """A template on a document: its pages as pictures. Nothing is kept."""
    keeps_prices(who)
    return sample_pages(template, sample, language)


@transaction.atomic
def save_edition(
    who: User, paper: str, based_on: int, template: Template, remark: str, *, sample: Document
) -> TemplateEdition:
    """A new edition; refused where it cannot be set, in any language, on a document that exists.

    ``based_on`` is the edition that was being changed: 0 for the shipped one.
    """
    keeps_prices(who)
    newest = TemplateEdition.objects.select_for_update().filter(paper=paper_named(paper)).first()
    check_version(newest.number if newest else 0, based_on, "template")
    for language in LANGUAGES:
        try_template(who, template, sample, language)
    made, created = TemplateEdition.objects.get_or_create(
        paper=paper,
        number=based_on + 1,
        defaults={
            "look": template.look.as_data(),
            "wording": template.wording,
            "source": template.source,
            "remark": remark.strip(),
            "saved_by": who,
        },
    )
    if not created:  # another one was saved at the same moment
        check_version(made.number, based_on, "template")
    return made


def go_back(who: User, paper: str, based_on: int, to: int, *, sample: Document) -> TemplateEdition:
    """An earlier edition again, as the newest; 0 is the shipped one."""
    keeps_prices(who)
    if to == 0:
        template = shipped(paper_named(paper))
    else:
        row = TemplateEdition.objects.filter(paper=paper, number=to).first()
        if row is None:
            raise Missing("not_found", facts={"what": "edition"})
        template = template_of(row)
    words = "As shipped, again" if to == 0 else f"Edition {to}, again"
    return save_edition(who, paper, based_on, template, words, sample=sample)
