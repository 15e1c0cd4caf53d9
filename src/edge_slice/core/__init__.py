"""The job itself: model in, cut, compose, place on sheets, render. No web, database, clock or network."""
