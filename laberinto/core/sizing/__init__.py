"""Sizes both ways: from the board that is wanted to its numbers, and from the wood at hand to the boards it makes."""

from .ledger import Line, Term, ledger
from .wanted import Kind, Proposal, Want, propose

__all__ = ["Kind", "Line", "Proposal", "Term", "Want", "ledger", "propose"]
