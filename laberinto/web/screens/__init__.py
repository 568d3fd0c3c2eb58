"""One package a screen: its addresses, what its page holds, and its templates."""
