"""All boards, and starting a new one."""

from .routes import bp

__all__ = ["bp"]
