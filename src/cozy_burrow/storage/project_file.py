"""`FILE.burrow`: a zip with `project.json`. Saving is atomic; opening says what is wrong in one sentence.

History of the format (`format` in project.json):
1  the first: items, inserts with sheets, placements and pulls, rules.
2  containers stand beside the inserts, which name theirs: several tiers share one. Format 1 had one in each insert.
3  inserts may keep areas free (`spare`). Format 2 has none and is read as it is.
4  things name their fit and what they are held by, risers are put back, rules say how is marked and cut; all optional.
5  a seat that nobody named is judged; up to format 4 it followed the kind of container. What was laid keeps that.
6  rules say whether templates show floating parts (`guides`); optional.
7  items say what they are made of and their colours (`material`, `colour`); optional.
8  sheets say their colours (`colour`, `base_colour`); items keep the cut-out of their photo (`photo`); optional.
9  placements say by how much their pocket was eased at the bench (`eased_mm`), inserts in which order they are cut
   where a fitter has said so (`cut_order`); optional.
10 placements say at which sides of their pocket something was shaved off or glued in (`eased_sides`),
   containers how the boards round them are built (`frame`); optional.
11 inserts say what was glued into them (`glued`) and keep a photo of themselves with everything in its place
   (`full_photo`), projects keep roll calls (`roll_calls`), items the key under which they are kept outside of projects
   (`kept_as`), containers their place in a cabinet (`place`); optional.
"""

from __future__ import annotations

import io
import zipfile
import zlib
from pathlib import Path
from typing import Any

import msgspec
import msgspec.inspect
from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.coherence import Loss, incoherence, made_coherent
from cozy_burrow.core.model.records import Insert, Project, Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.newer import known_only
from cozy_burrow.storage.sound import check_sound
from cozy_burrow.storage.whole_file import Mark, read_marked, write_whole

FORMAT = 11
MEMBER = "project.json"
MOST_BYTES = 64_000_000
_FIXED_DATE = (1980, 1, 1, 0, 0, 0)  # zip stamps the time otherwise, and two saves of one project would differ


class Document(Record, frozen=True, kw_only=True):
    """What `project.json` holds."""

    format: int
    program: str = "cozy-burrow"
    project: Project


def to_bytes(project: Project) -> bytes:
    """Return the project as the bytes of a .burrow file; the same project gives the same bytes."""
    document = Document(format=FORMAT, project=project)
    text = msgspec.json.format(msgspec.json.encode(document), indent=1)
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as archive:
        archive.writestr(zipfile.ZipInfo(MEMBER, _FIXED_DATE), text, zipfile.ZIP_DEFLATED)
    return stream.getvalue()


def from_bytes(data: bytes, *, where: str) -> Project:
    """Return the project in the bytes of a .burrow file. Raises UnusableInput that says what is damaged."""
    return opened_from(data, where=where).project


def opened_from(data: bytes, *, where: str, newer_too: bool = False) -> Opened:
    """Return the project in the bytes of a .burrow file, and what was lost of it. Raises UnusableInput.

    newer_too: of a newer program's file, what this one knows of it is read; otherwise such a file is refused.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            info = archive.getinfo(MEMBER)
            if info.file_size > MOST_BYTES:
                raise UnusableInput(
                    tr("the project is larger than 64 MB unpacked"), where=where, remedy=tr("open a copy")
                )
            with archive.open(info) as member:
                text = member.read(MOST_BYTES + 1)
            if len(text) > MOST_BYTES:
                raise UnusableInput(
                    tr("the project is larger than 64 MB unpacked"), where=where, remedy=tr("open a copy")
                )
    except KeyError as error:
        raise UnusableInput(
            tr("the file holds no {member}, so it is no project", member=MEMBER),
            where=where,
            remedy=tr("open another file"),
        ) from error
    except (
        zipfile.BadZipFile,
        zlib.error,
        EOFError,
        OSError,
        NotImplementedError,
        RuntimeError,
        ValueError,
    ) as error:
        raise UnusableInput(
            tr("the file is damaged or is no project: its archive cannot be unpacked"),
            where=where,
            remedy=tr("open the recovery copy or an older save"),
        ) from error
    return _decoded(text, where=where, newer_too=newer_too)


def _decoded(text: bytes, *, where: str, newer_too: bool) -> Opened:
    try:
        raw: Any = msgspec.json.decode(text)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise UnusableInput(
            tr("{member} is cut off or damaged", member=MEMBER),
            where=where,
            remedy=tr("open the recovery copy or an older save"),
        ) from error
    number = raw.get("format") if isinstance(raw, dict) else None
    if not isinstance(number, int) or isinstance(number, bool) or number < 1:
        raise UnusableInput(tr("{member} names no format", member=MEMBER), where=where, remedy=tr("open another file"))
    is_newer = number > FORMAT
    refusal = UnusableInput(
        tr(
            "the project was saved by a newer program (format {number}, this one reads up to {format})",
            number=number,
            format=FORMAT,
        ),
        where=where,
        remedy=tr("bring this program up to date"),
    )
    if is_newer and not newer_too:
        raise refusal
    if number == 1:
        raw = _from_format_1(raw)
    if number < 5:
        raw = _from_format_4(raw)
    try:
        if is_newer:
            raw = known_only(raw, msgspec.inspect.type_info(Document))
        project = msgspec.convert(raw, Document, strict=True).project
    except (msgspec.ValidationError, RecursionError) as error:
        if is_newer:
            raise refusal from error
        raise UnusableInput(
            tr("a figure in {member} is not what it should be: {error}", member=MEMBER, error=error),
            where=where,
            remedy=tr("open the recovery copy or an older save"),
        ) from error
    whole, lost = made_coherent(project)
    return Opened(project=check_sound(whole, where=where), lost=lost, is_newer=is_newer)


def _from_format_1(raw: dict[str, Any]) -> dict[str, Any]:
    """Return a document of format 1 in the form of format 2: each insert's own container gets an id."""
    project = raw.get("project")
    if not isinstance(project, dict) or not isinstance(project.get("inserts"), list):
        return raw
    inserts = project["inserts"]
    containers = []
    for index, insert in enumerate(inserts, start=1):
        if isinstance(insert, dict):
            box = insert.pop("container", {})
            if isinstance(box, dict):
                containers.append({**box, "id": f"container-{index}", "name": insert.get("name", "")})
            insert["container_id"] = f"container-{index}"
    project["containers"] = containers
    return raw


def _from_format_4(raw: dict[str, Any]) -> dict[str, Any]:
    """Return a document of format 4 in the form of format 5: what lies there names the seat that it had by itself.

    Its foam may have been cut: opening the file must not make it deeper.
    """
    project = raw.get("project")
    if not isinstance(project, dict) or _of(project.get("rules")).get("seat") is not None:
        return raw
    named = {str(one.get("id")) for one in _all(project.get("items")) if one.get("seat") is not None}
    kinds = {str(one.get("id")): one.get("kind") for one in _all(project.get("containers"))}
    met: set[str] = set()
    for insert in _all(project.get("inserts")):
        container = str(insert.get("container_id", Insert(id="", name="").container_id))
        by_kind = {"case": "lid", "wall": "deep"}.get(str(kinds.get(container)), "half")
        seat = "lid" if container in met else by_kind  # the tiers below the top one
        met.add(container)
        for one in _all(insert.get("placements")):
            by_itself = one.get("seat") is None and one.get("zone_layers") is None
            if by_itself and str(one.get("item_id")) not in named:
                one["seat"] = seat
    return raw


def _of(value: object) -> dict[str, Any]:
    return value if isinstance(value, dict) else {}


def _all(value: object) -> list[dict[str, Any]]:
    return [one for one in value if isinstance(one, dict)] if isinstance(value, list) else []


class Opened(Record, frozen=True, kw_only=True):
    """What a file held: the project, and what had to be left out of it so that it can be worked with.

    is_newer: a newer program wrote it, and what this one does not know of is not in the project.
    """

    project: Project
    lost: tuple[Loss, ...] = ()
    mark: Mark | None = None
    is_newer: bool = False


def load(path: Path) -> Project:
    """Return the project in a file. Raises UnusableInput."""
    return open_file(path).project


def open_file(path: Path, *, newer_too: bool = False) -> Opened:
    """Return the project in a file, what was lost of it, and the file's mark, as `opened_from` does."""
    data, mark = read_marked(path, most=MOST_BYTES)
    return replace(opened_from(data, where=path.name, newer_too=newer_too), mark=mark)


def save(project: Project, path: Path) -> Mark:
    """Write the project whole or not at all, after looking that what is written can be opened; return the file's mark.

    Raises UnusableInput where it cannot be.
    """
    return write_whole(path, checked_bytes(project))


def checked_bytes(project: Project) -> bytes:
    """Return the bytes of a .burrow file that was opened once to see that it can be. Raises UnusableInput.

    Whatever a bug puts into a project, the file that is there must not be lost to one that cannot be opened.
    """
    data = to_bytes(project)
    wrong = incoherence(project)
    if not wrong:
        try:
            if from_bytes(data, where="the project") != project:
                wrong = tr("it opens as something else")
        except UnusableInput as error:
            wrong = error.what
    if wrong:
        raise UnusableInput(
            tr("what would be written could not be opened again ({wrong})", wrong=wrong),
            remedy=tr("undo the last changes and save again; the file is as it was"),
        )
    return data


def schema() -> dict[str, Any]:
    """Return the JSON Schema of `project.json`."""
    return msgspec.json.schema(Document)
