"""What drawing standards say."""
