"""Known: the one place that answers a figure of the job, and from where.

A figure is asked once. Whoever wants it asks here and gets it by one precedence: measured, delivered, typed, chosen,
template, default. Choosing something never overwrites what was typed or measured; what is typed again lands where the
figure is kept that decides (``store_of``), so that no two copies of it can drift apart. Lengths in mm.
"""
