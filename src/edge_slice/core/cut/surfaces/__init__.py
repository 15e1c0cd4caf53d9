"""What is seen between the lines: regions of flat faces, and what lies in the sun."""
