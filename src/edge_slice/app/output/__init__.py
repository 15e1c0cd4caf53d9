"""What leaves the application: files of drawings and sheets, issues, whole projects."""
