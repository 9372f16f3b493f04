"""What is kept: jobs with all their states as parts, photo files by their content, tasks."""

from .card import Card
from .database import Database
from .job_list import Listed, Sort, Which
from .jobs import Head, Jobs, State
from .labs import LabSheets
from .named import Named
from .orders import Ordered, Orders
from .parts import Parts
from .photos import Photos
from .pictures import Pictures
from .proof_links import ProofLink, ProofLinks
from .sessions import SessionStore
from .tasks import Task, Tasks
from .templates import Templates
from .tokens import Tokens
from .trouble import StoreFailed, explain_failure
from .watched_folders import LaidInFolders

__all__ = [
    "Card", "Database", "Head", "Jobs", "LabSheets", "LaidInFolders",
    "Listed", "Named", "Ordered", "Orders", "Parts", "Photos", "Pictures", "ProofLink", "ProofLinks", "SessionStore", "Sort",
    "State",
    "StoreFailed", "Task", "Tasks", "Templates", "Tokens", "Which", "explain_failure",
]  # fmt: skip
