"""Whether two names are of one customer, two entries of one person: spelling, order of words, accents and legal forms aside.

Source: common practice, no source. The skeleton of a word is a key in the manner of Soundex (Russell, US patent
1 261 167, 1918), with letters kept instead of classes, so that more names stay apart.
"""

from dataclasses import dataclass
from difflib import SequenceMatcher
from functools import lru_cache
from itertools import groupby
import re
import unicodedata

#: What says how a firm is owned, not what it is called; and words that join.
LEGAL_FORMS = frozenset(
    [
        "ag",
        "kg",
        "ohg",
        "ug",
        "gmbh",
        "mbh",
        "eg",
        "ev",
        "ek",
        "gbr",
        "se",
        "sarl",
        "sas",
        "sa",
        "spa",
        "srl",
        "bv",
        "nv",
        "ab",
        "as",
        "aps",
        "oy",
        "oyj",
        "plc",
        "llp",
        "llc",
        "ltd",
        "limited",
        "inc",
        "corp",
        "corporation",
        "company",
        "co",
        "sro",
        "zrt",
        "kft",
        "doo",
    ]
)
JOINING = frozenset(["and", "und", "et", "the", "der", "die", "das", "of"])
#: Letters that no decomposition opens.
LETTERS = str.maketrans({"ß": "ss", "ø": "o", "æ": "ae", "œ": "oe", "ł": "l", "đ": "d", "ı": "i"})
#: How sounds that are written in two ways are written here; the longer first.
SOUNDS = (
    ("ph", "f"),
    ("sch", "sh"),
    ("ch", "sh"),
    ("ck", "k"),
    ("c", "k"),
    ("y", "i"),
    ("z", "s"),
    ("w", "v"),
)
#: A skeleton this short keeps its last s.
SHORT = 3
VOWELS = frozenset("aeiou")
#: Two names of words in one order are near from here on: one letter in seven differs.
NEAR = 0.86


@lru_cache(maxsize=4096)
def name_words(name: str) -> tuple[str, ...]:
    """The words of a name that tell it: small letters without accents, no legal forms, sorted.

    A name of legal forms alone keeps them.

    >>> name_words("The Hazelmoor Orchards Ltd."), name_words("ORCHARDS, Häzelmoor")
    (('hazelmoor', 'orchards'), ('hazelmoor', 'orchards'))
    """
    plain = unicodedata.normalize("NFKD", name.casefold().translate(LETTERS))
    plain = "".join(sign for sign in plain if not unicodedata.combining(sign))
    words = re.findall(r"[^\W_]+", re.sub(r"(?<=\b\w)\.(?=\w\b)|'", "", plain))
    telling = [word for word in words if word not in LEGAL_FORMS and word not in JOINING]
    return tuple(sorted(telling or words))


def skeleton(word: str) -> str:
    """A word as it sounds, roughly: its first letter and its consonants, doubles once, without a plural's s.

    >>> skeleton("hazelmoor"), skeleton("hasselmor"), skeleton("orchards")
    ('hslmr', 'hslmr', 'orshrd')
    """
    for written, kept in SOUNDS:
        word = word.replace(written, kept)
    bones = word[:1] + "".join(sign for sign in word[1:] if sign not in VOWELS)
    once = "".join(sign for sign, _ in groupby(bones))
    return once.removesuffix("s") if len(once) > SHORT else once


def name_keys(name: str) -> frozenset[str]:
    """The skeletons by which a name is found among many: one for each telling word of two signs or more."""
    return frozenset(key[:24] for word in name_words(name) if len(key := skeleton(word)) > 1)


@dataclass(frozen=True, slots=True)
class NameLikeness:
    """How like two names are: ``same`` words in any order, ``near`` in spelling, or neither; 0 to 1."""

    how: str
    share: float


def compare_names(one: str, other: str) -> NameLikeness:
    """How like two names are.

    >>> compare_names("Hazelmoor Orchards", "Orchards Hazelmoor Ltd").how
    'same'
    >>> compare_names("Hazelmoor Orchards", "Hazelmor Orchard").how
    'near'
    >>> compare_names("Hazelmoor Orchards", "Fellgate Orchards").how
    ''
    """
    first, second = name_words(one), name_words(other)
    if not first or not second:
        return NameLikeness("", 0.0)
    if first == second:
        return NameLikeness("same", 1.0)
    share = _share(" ".join(first), " ".join(second))
    short, long = sorted((set(first), set(second)), key=len)
    if len(short) > 1 and short < long:
        share = max(share, NEAR)  # "Wren Nurseries" and "Wren Nurseries Northgate"
    return NameLikeness("near" if share >= NEAR else "", share)


def _share(one: str, other: str) -> float:
    """How much of two texts is the same in order, from 0 to 1; where it cannot be near, at most so much."""
    match = SequenceMatcher(None, one, other, autojunk=False)
    for bound in (match.real_quick_ratio, match.quick_ratio):
        if bound() < NEAR:
            return bound()
    return match.ratio()


def phone_key(phone: str) -> str:
    """The last nine digits of a phone number, however it is written; nothing for fewer than six.

    >>> phone_key("+44 (0)1632 960-201"), phone_key("01632960201"), phone_key("112")
    ('632960201', '632960201', '')
    """
    digits = "".join(sign for sign in phone if sign.isascii() and sign.isdigit())
    return digits[-9:] if len(digits) >= 6 else ""


def mail_domain(address: str) -> str:
    """What stands behind the sign of an e-mail address, in small letters.

    >>> mail_domain("Ansel@Marrowvale.Example"), mail_domain("")
    ('marrowvale.example', '')
    """
    return address.rpartition("@")[2].strip().casefold() if "@" in address else ""


@dataclass(frozen=True, slots=True, kw_only=True)
class PersonMarks:
    """What tells a person at a customer."""

    name: str = ""
    mail: str = ""
    phone: str = ""


def compare_people(one: PersonMarks, other: PersonMarks) -> tuple[str, ...]:
    """Why two entries may be of one person, the surest first: ``mail``, ``phone``, ``name_same``, ``name_near``; or nothing.

    Mail addresses count whole, in small letters or large; phones as ``phone_key`` has them; names as a customer's do.

    >>> compare_people(PersonMarks(name="Tam Ruddock", phone="+44 1632 960 221"),
    ...                PersonMarks(name="Ruddock, Tam", phone="01632960221"))
    ('phone', 'name_same')
    >>> compare_people(PersonMarks(name="Tam Ruddock"), PersonMarks(name="Tim Ruddick"))
    ()
    """
    why = []
    if one.mail.strip() and one.mail.strip().casefold() == other.mail.strip().casefold():
        why.append("mail")
    if phone_key(one.phone) and phone_key(one.phone) == phone_key(other.phone):
        why.append("phone")
    match compare_names(one.name, other.name).how:
        case "same":
            why.append("name_same")
        case "near":
            why.append("name_near")
    return tuple(why)
