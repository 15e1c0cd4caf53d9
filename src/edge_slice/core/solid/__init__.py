"""The building in three dimensions: its compact form for the browser, planes as cuts, bodies really cut."""
