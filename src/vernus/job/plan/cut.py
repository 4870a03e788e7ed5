"""Whether a scale is cut, from what length to what: the one answer that Scale, Order, card and paper give."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.plan.scales import order_length
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import delivery_of
from vernus.job.known.lengths import family_of, measuring_length, stock_to_cut
from vernus.job.plan.compare import chosen_kit
from vernus.job.scope import gets_scale

_SAME_MM = 1e-6


@dataclass(frozen=True)
class Cut:
    """A scale cut to a measuring length, from the longer one bought or delivered (mm; None: sold in any length)."""

    from_mm: float | None
    to_mm: float


def cut_of(job: Job, axis: Axis) -> Cut | None:
    """The cut that the scale of an axis still takes; None where nothing is cut, or it is there already."""
    family, measuring = family_of(job, axis), measuring_length(job, axis)
    if not gets_scale(axis) or family is None or measuring is None:
        return None
    if is_here(job, axis):
        long = stock_to_cut(job, axis)
        return None if long is None else Cut(long, measuring.value)
    if family.can_be_cut and not family.sizes_mm:
        return Cut(None, measuring.value)
    long = stock_length(job, axis)
    return None if long is None or long <= measuring.value + _SAME_MM else Cut(long, measuring.value)


def stock_length(job: Job, axis: Axis) -> float | None:
    """The length (mm) bought of a family that can be cut: the kit's, or the next one sold; None where none is cut."""
    family, measuring, kit = family_of(job, axis), measuring_length(job, axis), chosen_kit(job)
    if family is None or measuring is None:
        return None
    if kit is not None and axis.name in kit.lengths_mm:
        return kit.lengths_mm[axis.name]
    return order_length(family, measuring.value) if family.can_be_cut else None


_SIZES = ("measuring", "overall", "hole_from_end", "reader", "reader_apart", "reader_depth", "bracket", "cable")


def is_here(job: Job, axis: Axis) -> bool:
    """Whether the scale of an axis has come: somebody measured it.

    Any size of it says so; of a length that is still to be cut only that length does.
    """
    arrived, family = delivery_of(job, axis), family_of(job, axis)
    if arrived is None:
        return False
    cut = family is not None and family.can_be_cut
    sizes = [mm_of(getattr(arrived, name)) for name in (_SIZES[:1] if cut else _SIZES)]
    return any(mm is not None and mm > 0 for mm in sizes)
