"""The tables."""

from uvren.store.models.base import (
    AnchorKind,
    Base,
    CallKind,
    ImportState,
    RecordingKind,
    Role,
    Scope,
    SessionKind,
    Source,
    Venue,
)
from uvren.store.models.files import Alias, FileImport, FileMapping, Recording
from uvren.store.models.limits import Call, Limit
from uvren.store.models.people import Athlete, Audit, Club, Membership, RoleGrant, SignIn, SignInTry, Squad, User
from uvren.store.models.work import Anchor, Channel, ChannelDefinition, DailyLoad, Entry, Place, Segment, Session, Work

__all__ = [
    "Alias",
    "Anchor",
    "AnchorKind",
    "Athlete",
    "Audit",
    "Base",
    "Call",
    "CallKind",
    "Channel",
    "ChannelDefinition",
    "Club",
    "DailyLoad",
    "Entry",
    "FileImport",
    "FileMapping",
    "ImportState",
    "Limit",
    "Membership",
    "Place",
    "Recording",
    "RecordingKind",
    "Role",
    "RoleGrant",
    "Scope",
    "Segment",
    "Session",
    "SessionKind",
    "SignIn",
    "SignInTry",
    "Source",
    "Squad",
    "User",
    "Venue",
    "Work",
]
