"""Everything worth saying about a job: its findings by axis and sheet, how far each sheet is, and the next step.

The roof over every room. A sheet's state comes from what was entered on that sheet and from nothing else; an open stop
or caution of it is its state before all.
"""
