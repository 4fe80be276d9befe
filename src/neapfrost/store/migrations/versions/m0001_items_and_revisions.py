"""Circuits, cars, conditions and plans, with the revisions of each."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def _item_columns() -> list[sa.Column[object]]:
    return [
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("newest", sa.Integer(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("changed_at", sa.DateTime(), nullable=False),
        sa.Column("deleted_at", sa.DateTime(), nullable=True),
    ]


def _revisions(table: str, items: str) -> None:
    op.create_table(
        table,
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("item_id", sa.Integer(), sa.ForeignKey(f"{items}.id"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("document", sa.String(), nullable=False),
        sa.Column("content_hash", sa.String(), nullable=False),
        sa.Column("remark", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("item_id", "number"),
    )
    op.create_index(f"ix_{table}_content_hash", table, ["content_hash"])


def upgrade() -> None:
    op.create_table(
        "circuits",
        *_item_columns(),
        sa.Column("length_m", sa.Double(), nullable=False),
        sa.Column("corner_count", sa.Integer(), nullable=False),
        sa.Column("closed", sa.Boolean(), nullable=False),
    )
    op.create_table(
        "cars",
        *_item_columns(),
        sa.Column("vehicle_kind", sa.String(), nullable=False),
        sa.Column("mass_kg", sa.Double(), nullable=False),
        sa.Column("peak_power_kw", sa.Double(), nullable=False),
    )
    op.create_table(
        "conditions",
        *_item_columns(),
        sa.Column("air_temp_c", sa.Double(), nullable=False),
        sa.Column("wind_speed_ms", sa.Double(), nullable=False),
        sa.Column("wetness_pct", sa.Double(), nullable=False),
    )
    op.create_table(
        "plans",
        *_item_columns(),
        sa.Column("car_id", sa.Integer(), sa.ForeignKey("cars.id"), nullable=False),
        sa.Column("circuit_id", sa.Integer(), sa.ForeignKey("circuits.id"), nullable=False),
        sa.Column("conditions_id", sa.Integer(), sa.ForeignKey("conditions.id"), nullable=False),
    )
    for items in ("circuits", "cars", "conditions", "plans"):
        op.create_index(f"ix_{items}_name", items, ["name"])
    for column in ("car_id", "circuit_id", "conditions_id"):
        op.create_index(f"ix_plans_{column}", "plans", [column])
    _revisions("circuit_revisions", "circuits")
    _revisions("car_revisions", "cars")
    _revisions("conditions_revisions", "conditions")
    _revisions("plan_revisions", "plans")
    op.create_table(
        "marks",
        sa.Column("name", sa.String(), primary_key=True),
        sa.Column("value", sa.String(), nullable=False),
    )
