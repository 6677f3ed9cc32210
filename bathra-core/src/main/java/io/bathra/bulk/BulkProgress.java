package io.bathra.bulk;

import java.time.Duration;

/**
 * How far a bulk call has come.
 *
 * @param rows how many rows were dealt with
 * @param rejected how many of them were rejected
 * @param time since the call began
 */
public record BulkProgress(long rows, long rejected, Duration time) {}
