"""Sheets: drawings placed on them, the register, designs, and the checks on the way out."""
