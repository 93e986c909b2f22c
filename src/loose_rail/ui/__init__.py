"""The only room with Qt: thin views that draw frozen states and pass on what the person does."""
