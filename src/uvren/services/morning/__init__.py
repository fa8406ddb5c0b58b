"""The morning desk: lanes of a squad, and the evidence behind each."""

from uvren.services.morning.evidence import Evidence, TestLine, called_load, read_evidence, test_lines
from uvren.services.morning.lanes import CallSaid, ChannelName, Lane, Morning, read_morning
from uvren.services.morning.room import REASONS
from uvren.services.morning.strips import Strip, strips

__all__ = [
    "REASONS",
    "CallSaid",
    "ChannelName",
    "Evidence",
    "Lane",
    "Morning",
    "Strip",
    "TestLine",
    "called_load",
    "read_evidence",
    "read_morning",
    "strips",
    "test_lines",
]
