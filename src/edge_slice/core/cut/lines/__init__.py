"""What is seen beyond a cut: edges, hidden lines, joints, and each line once."""
