// Specs that cause real faults wait for real time.
jasmine.DEFAULT_TIMEOUT_INTERVAL = 30_000;
