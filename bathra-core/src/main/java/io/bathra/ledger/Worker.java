package io.bathra.ledger;

import java.net.InetAddress;
import java.net.UnknownHostException;

/** Who works here: a process on a host, as others can look for it. */
final class Worker {
    private static final long START = ProcessHandle.current()
            .info()
            .startInstant()
            .map(at -> at.getEpochSecond())
            .orElse(0L);

    static final String HOST = host();

    /** The process's number, and when it has started, since numbers are given out again. */
    static final String PROCESS = ProcessHandle.current().pid() + "@" + START;

    private Worker() {}

    private static String host() {
        try {
            return InetAddress.getLocalHost().getHostName();
        } catch (UnknownHostException e) {
            return "a host without a name";
        }
    }

    /** Whether a process of this host is still there. */
    static boolean isThere(String process) {
        int at = process.indexOf('@');
        long start = Long.parseLong(process.substring(at + 1));
        return ProcessHandle.of(Long.parseLong(process.substring(0, at)))
                .filter(ProcessHandle::isAlive)
                .filter(one -> one.info()
                        .startInstant()
                        .map(then -> then.getEpochSecond() == start)
                        .orElse(true))
                .isPresent();
    }

    /** A process for people to read, without what tells it from an earlier one of the same number. */
    static String words(String host, String process) {
        int begun = process.indexOf('@');
        return host + ", process " + (begun < 0 ? process : process.substring(0, begun));
    }
}
