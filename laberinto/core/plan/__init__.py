"""Plans, and what becomes of the wood when they are acted out."""
