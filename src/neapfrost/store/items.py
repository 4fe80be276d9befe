"""Items and their revisions: add, revise, find, delete, bring back."""

import hashlib
import json
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from neapfrost.store.database import now
from neapfrost.store.tables import ITEM_TABLES, REVISION_TABLES, Item, Kind, Plan, Revision
from neapfrost.store.trouble import StoreTrouble

#: What plans stand on, and by which column.
USED_IN = {
    "car": Plan.car_id,
    "circuit": Plan.circuit_id,
    "conditions": Plan.conditions_id,
    "weather": Plan.weather_id,
}


class NotThere(Exception):
    """No item or revision of that number; `sentence` says which."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


@dataclass(frozen=True)
class Content:
    """What is written of an item: its document and the columns one searches by."""

    name: str
    document: dict[str, Any]
    columns: dict[str, Any]


def content_hash(document: dict[str, Any]) -> str:
    """Hash of a document, whatever the order of its keys."""
    text = json.dumps(document, sort_keys=True, separators=(",", ":"), ensure_ascii=False)
    return hashlib.sha256(text.encode()).hexdigest()


def add_item(session: Session, kind: Kind, content: Content, remark: str) -> int:
    """Add an item with its first revision; returns its id."""
    moment = now()
    item = ITEM_TABLES[kind](
        name=content.name, newest=0, made_at=moment, changed_at=moment, **content.columns
    )
    session.add(item)
    session.flush()
    _write(session, kind, item, content, remark)
    return item.id


def revise(session: Session, kind: Kind, item_id: int, content: Content, remark: str) -> int:
    """Write a new revision of an item; returns its number."""
    item = get_item(session, kind, item_id)
    for column, value in content.columns.items():
        setattr(item, column, value)
    item.name = content.name
    _write(session, kind, item, content, remark)
    return item.newest


def get_item(session: Session, kind: Kind, item_id: int) -> Item:
    """An item, deleted or not. Raises NotThere."""
    item = session.get(ITEM_TABLES[kind], item_id)
    if item is None:
        raise NotThere(f"there is no {kind} {item_id}")
    return item


def get_plan(session: Session, plan_id: int) -> Plan:
    """A plan, deleted or not. Raises NotThere."""
    plan = session.get(Plan, plan_id)
    if plan is None:
        raise NotThere(f"there is no plan {plan_id}")
    return plan


def get_document(
    session: Session, kind: Kind, item_id: int, number: int | None = None
) -> dict[str, Any]:
    """Document of a revision of an item; of its newest without a number. Raises NotThere."""
    newest = number is None
    if number is None:
        number = get_item(session, kind, item_id).newest
    table = REVISION_TABLES[kind]
    text = session.scalar(
        select(table.document).where(table.item_id == item_id, table.number == number)
    )
    if text is None and not newest:
        raise NotThere(f"there is no revision {number} of {kind} {item_id}")
    document = None if text is None else object_in(text)
    if document is None:
        raise damaged(kind, item_id, number)
    return document


def damaged(kind: str, item_id: int, number: int) -> StoreTrouble:
    """That a kept document cannot be read."""
    return StoreTrouble(
        f"revision {number} of {kind} {item_id} is damaged; take another revision, or put a "
        "backup in the file's place"
    )


def object_in(text: str) -> dict[str, Any] | None:
    """A kept JSON object; None for what is none."""
    try:
        value = json.loads(text)
    except ValueError:
        return None
    return value if isinstance(value, dict) else None


def list_revisions(session: Session, kind: Kind, item_id: int) -> list[Revision]:
    """Revisions of an item, the newest first."""
    table = REVISION_TABLES[kind]
    return list(
        session.scalars(select(table).where(table.item_id == item_id).order_by(table.number.desc()))
    )


def list_items(session: Session, kind: Kind, search: str = "", deleted: bool = False) -> list[Item]:
    """Items whose name holds every word of `search`, the last changed first."""
    table = ITEM_TABLES[kind]
    query = select(table).where(
        table.deleted_at.is_not(None) if deleted else table.deleted_at.is_(None)
    )
    for word in search.split():
        query = query.where(table.name.icontains(word, autoescape=True))
    return list(session.scalars(query.order_by(table.changed_at.desc(), table.id.desc())))


def all_items(session: Session, kind: Kind) -> list[Item]:
    """Every item of a kind, deleted or not."""
    return list(session.scalars(select(ITEM_TABLES[kind])))


def newest_texts(session: Session, kind: Kind) -> dict[int, str]:
    """The document of each item's newest revision as it is written, by the item's number."""
    revision, item = REVISION_TABLES[kind], ITEM_TABLES[kind]
    rows = session.execute(
        select(revision.item_id, revision.document).join(
            item, (item.id == revision.item_id) & (item.newest == revision.number)
        )
    )
    return {row.item_id: row.document for row in rows}


def find_content(session: Session, kind: Kind, document: dict[str, Any]) -> Revision | None:
    """The newest revision of an item not deleted that has exactly this content."""
    revision, item = REVISION_TABLES[kind], ITEM_TABLES[kind]
    return session.scalar(
        select(revision)
        .join(item, item.id == revision.item_id)
        .where(revision.content_hash == content_hash(document), item.deleted_at.is_(None))
        .order_by((revision.number == item.newest).desc(), revision.id.desc())
        .limit(1)
    )


def plans_using(session: Session, kind: Kind, item_id: int) -> list[Plan]:
    """Plans, not deleted, that stand on a car, a circuit or conditions."""
    if kind not in USED_IN:
        return []
    query = select(Plan).where(USED_IN[kind] == item_id, Plan.deleted_at.is_(None))
    return list(session.scalars(query.order_by(Plan.name)))


def users_of(session: Session, kind: Kind) -> dict[int, list[str]]:
    """For each item of a kind that plans, not deleted, stand on, their names in order."""
    if kind not in USED_IN:
        return {}
    column = USED_IN[kind]
    query = (
        select(column, Plan.name)
        .where(Plan.deleted_at.is_(None), column.is_not(None))
        .order_by(Plan.name)
    )
    found: dict[int, list[str]] = {}
    for number, name in session.execute(query):
        assert number is not None  # left out
        found.setdefault(number, []).append(name)
    return found


def delete_item(session: Session, kind: Kind, item_id: int) -> None:
    """Mark an item as deleted; its revisions stay."""
    get_item(session, kind, item_id).deleted_at = now()


def restore_item(session: Session, kind: Kind, item_id: int) -> None:
    """Bring a deleted item back."""
    get_item(session, kind, item_id).deleted_at = None


def _write(session: Session, kind: Kind, item: Item, content: Content, remark: str) -> None:
    item.newest += 1
    item.changed_at = now()
    session.add(
        REVISION_TABLES[kind](
            item_id=item.id,
            number=item.newest,
            document=json.dumps(content.document, ensure_ascii=False),
            content_hash=content_hash(content.document),
            remark=remark,
            made_at=item.changed_at,
        )
    )
    session.flush()
