"""What the core raises: what was wrong, and what would be right."""


class CoreError(ValueError):
    """A value the arithmetic cannot work with. ``field`` names the argument at fault."""

    def __init__(self, message: str, *, field: str | None = None) -> None:
        super().__init__(message)
        self.field = field


class UnknownRule(CoreError):
    """A limit names a rule that does not exist."""


class BadLimit(CoreError):
    """A limit's value or setting is outside what its rule allows."""


class BadLoads(CoreError):
    """Loads that do not form rows x days, are negative, or are not finite."""


class BadRecording(CoreError):
    """Samples, anchors or bands that do not fit together."""


class BadUnit(CoreError):
    """The definition of a channel is incomplete, or a weight is outside what its form allows."""


class BadReport(CoreError):
    """A report, or a form of one, that cannot be."""


class BadTest(CoreError):
    """A test, a result or a force trace that cannot be."""


class BadPlan(CoreError):
    """A plan to be solved that makes no sense."""


class BadSeason(CoreError):
    """Phases that end before they begin or share days."""


class BadSetting(CoreError):
    """A setting of a notice that makes no sense."""
