"""The finish: how flat a board is, and what it does after it has left the shop."""
