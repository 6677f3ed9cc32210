package io.bathra.bench;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.atomic.AtomicLong;

/** Those who read and write a table all the while, each with a connection of its own. */
final class Load {
    private static final int READERS = 4;
    private static final int WRITERS = 2;
    private static final long STAYS_MILLIS = 2_000;
    private static final long PAUSE_MILLIS = 2;

    private final String url;
    private final int rows;
    private final List<Thread> threads = new ArrayList<>();
    private final AtomicLong longestRead = new AtomicLong();
    private final AtomicLong longestWrite = new AtomicLong();
    private final AtomicLong statements = new AtomicLong();
    private final Map<String, AtomicLong> failures = new ConcurrentSkipListMap<>();
    private volatile boolean ended;

    Load(String url, int rows) {
        this.url = url;
        this.rows = rows;
    }

    /** What makes a session wait for others for a long time. */
    static List<String> patience(String url) {
        if (url.startsWith("jdbc:h2")) {
            return List.of("set lock_timeout 60000");
        }
        return url.startsWith("jdbc:sqlite") ? List.of("pragma busy_timeout = 60000") : List.of();
    }

    void begin() {
        for (int i = 0; i < READERS; i++) {
            start(() -> work("select weight from crate where id = ?", longestRead));
        }
        for (int i = 0; i < WRITERS; i++) {
            start(() -> work("update crate set weight = weight + 1 where id = ?", longestWrite));
        }
        start(this::stay);
    }

    private void start(Runnable work) {
        Thread thread = new Thread(work);
        thread.start();
        threads.add(thread);
    }

    private Connection connect() throws SQLException {
        Connection connection = DriverManager.getConnection(url);
        try (Statement statement = connection.createStatement()) {
            for (String sql : patience(url)) {
                statement.execute(sql);
            }
        }
        return connection;
    }

    private void work(String sql, AtomicLong longest) {
        try (Connection connection = connect()) {
            while (!ended) {
                long begin = System.nanoTime();
                try (PreparedStatement statement = connection.prepareStatement(sql)) {
                    statement.setLong(1, ThreadLocalRandom.current().nextLong(rows) + 1);
                    statement.execute();
                } catch (SQLException e) {
                    failed(e);
                }
                longest.accumulateAndGet(System.nanoTime() - begin, Math::max);
                statements.incrementAndGet();
                Thread.sleep(PAUSE_MILLIS);
            }
        } catch (SQLException e) {
            failed(e);
        } catch (InterruptedException e) {
            return;
        }
    }

    /** A transaction that reads, and stays. */
    private void stay() {
        try (Connection connection = connect()) {
            connection.setAutoCommit(false);
            while (!ended) {
                try (Statement statement = connection.createStatement()) {
                    statement
                            .executeQuery("select count(*) from crate where id < 100")
                            .next();
                    Thread.sleep(ended ? 0 : STAYS_MILLIS);
                    connection.commit();
                } catch (SQLException e) {
                    failed(e);
                    connection.rollback();
                }
                Thread.sleep(ended ? 0 : STAYS_MILLIS / 4);
            }
        } catch (SQLException e) {
            failed(e);
        } catch (InterruptedException e) {
            return;
        }
    }

    private void failed(SQLException e) {
        String words = e.getSQLState() + " " + e.getErrorCode();
        failures.computeIfAbsent(words, one -> new AtomicLong()).incrementAndGet();
    }

    /** What was so far does not count. */
    void forget() {
        longestRead.set(0);
        longestWrite.set(0);
        statements.set(0);
    }

    void end() throws InterruptedException {
        ended = true;
        for (Thread thread : threads) {
            thread.join();
        }
    }

    long longestRead() {
        return longestRead.get();
    }

    long longestWrite() {
        return longestWrite.get();
    }

    long statements() {
        return statements.get();
    }

    /** How often something has failed, by the state and code of the error. */
    Map<String, AtomicLong> failures() {
        return failures;
    }
}
