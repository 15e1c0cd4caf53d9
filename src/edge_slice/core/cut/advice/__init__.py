"""What a careful colleague sees in cuts: what is missing, what says nothing new, where another one would help."""
