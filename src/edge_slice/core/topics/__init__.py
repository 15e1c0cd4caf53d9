"""Topics: what is asked of somebody else about a model, as files that other programs read, and what they answer
(BIM Collaboration Format of buildingSMART International, BCF-XML 2.1 and 3.0)."""
