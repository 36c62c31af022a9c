"""Settings, addresses and the one API the rooms of the server hang their endpoints on."""
