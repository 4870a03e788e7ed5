"""The one root of all errors Vernus raises on purpose."""


class VernusError(Exception):
    """Something the user can put right; the message says what was wrong, where, and what would be right."""


class BadInputError(VernusError, ValueError):
    """A value that can't be computed with (a zero move, an unknown family, too few readings)."""


class LengthSyntaxError(BadInputError):
    """A length that can't be read; ``position`` is the 1-based character where reading stopped."""

    def __init__(self, text: str, position: int, problem: str) -> None:
        self.text = text
        self.position = position
        self.problem = problem
        super().__init__(f"“{text}”: {problem} (character {position}).")
