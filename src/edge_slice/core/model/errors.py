"""What can be wrong with a model file, in words for its owner."""


class UnreadableModel(Exception):
    """The file cannot become a model; the message says what is wrong and what to do."""
