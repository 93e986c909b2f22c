"""Reading a job file and answering it."""
