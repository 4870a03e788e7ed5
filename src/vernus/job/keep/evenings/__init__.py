"""The evenings of a job: when the user works, what falls on each, the clock, the calendar, tonight."""
