"""Which number belongs to which goods in a clause."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from routecore.reading.counting import ARTICLES
from routecore.reading.found import EMPTY, Cluster, Quantity, Scan
from routecore.reading.goods import GLUE
from routecore.reading.signs import NUMBER, WORD

#: So many words that name nothing may stand between a number and its goods.
STRANGE = 2


@dataclass(frozen=True, slots=True)
class Mention:
    """Goods and their number: either may be missing. ``strange``: words beside them say something that is not known."""

    quantity: Quantity | None
    cluster: Cluster | None
    strange: bool = False
    article: bool = False


def mentions_of(scan: Scan) -> list[Mention]:
    """Each number with its goods, in order; goods and numbers that stay alone as well."""
    taken: dict[int, int] = {}
    strange: set[int] = set()
    for n, each in enumerate(scan.found):
        if not isinstance(each, Quantity):
            continue
        ahead = _ahead(scan, n, taken)
        if ahead is not None:
            taken[n + 1] = n
            if ahead:
                strange.add(n)
        elif n and n - 1 not in taken and _behind(scan, n):
            taken[n - 1] = n
    quantities = {quantity: cluster for cluster, quantity in taken.items()}
    found = []
    for n, each in enumerate(scan.found):
        if isinstance(each, Quantity):
            goods = scan.found[quantities[n]] if n in quantities else None
            cluster = goods if isinstance(goods, Cluster) else None
            found.append(Mention(each, cluster, n in strange))
        elif n not in taken:
            found.append(Mention(None, each, article=_article(scan, each.first)))
    return found


def _ahead(scan: Scan, n: int, taken: dict[int, int]) -> int | None:
    """How many unknown words stand between a number and the goods after it; None where these are not its own."""
    if n + 1 >= len(scan.found) or n + 1 in taken:
        return None
    one, two = scan.found[n], scan.found[n + 1]
    if not isinstance(two, Cluster):
        return None
    gap = scan.tokens[one.after : two.first]
    if not scan.trapped.isdisjoint(range(one.after, two.first)):
        return None
    strange = 0
    for at, token in enumerate(gap):
        if token.kind == NUMBER or token.text in ",;:|=" or token.plain in ("and", "und"):
            return None
        if token.kind == WORD and token.plain not in GLUE and token.plain not in EMPTY:
            strange += 1
            following = gap[at + 1].plain if at + 1 < len(gap) else ""
            if following in GLUE and following not in ("of", "von"):
                return None  # "40 guests in the barn": the number is of something else
    if strange > STRANGE or len(gap) > STRANGE + 2:
        return None
    return strange


def _behind(scan: Scan, n: int) -> bool:
    """Whether a number belongs to the goods before it."""
    if not isinstance(scan.found[n - 1], Cluster):
        return False
    gap = scan.tokens[scan.found[n - 1].after : scan.found[n].first]
    if not scan.trapped.isdisjoint(range(scan.found[n - 1].after, scan.found[n].first)):
        return False
    words = [token for token in gap if token.kind == WORD and token.plain not in GLUE]
    return len(gap) <= 3 and len(words) <= 1 and all(word.plain in EMPTY for word in words)


def _article(scan: Scan, first: int) -> bool:
    return first > 0 and scan.tokens[first - 1].plain in ARTICLES


def carried(cluster: Cluster, head: Sequence[str]) -> Cluster:
    """A cluster that says no thing, with the words for it from an earlier one: "pots: 400 of 3 l"."""
    return replace(cluster, stems=[*head, *cluster.stems], item=None)
