package io.bathra.bench.day;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.Arrays;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.atomic.LongAdder;
import java.util.concurrent.locks.LockSupport;

/**
 * A line to a server that takes its time: what is sent arrives later, in order, however much is on its way. It counts
 * the round trips: each time that something is sent after something was received.
 */
final class DelayedLine implements AutoCloseable {
    private static final int BYTES = 1 << 16;

    /** Some bytes, and when they arrive. */
    private record Packet(byte[] bytes, long due) {}

    private final ServerSocket door;
    private final int server;
    private final long nanosEachWay;
    private final LongAdder trips = new LongAdder();

    /**
     * Opens a line.
     *
     * @param server the server's port on this machine
     * @param nanosEachWay how long a packet is on its way
     */
    DelayedLine(int server, long nanosEachWay) throws IOException {
        this.server = server;
        this.nanosEachWay = nanosEachWay;
        door = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        start("door", this::accept);
    }

    /** Where to connect to. */
    int port() {
        return door.getLocalPort();
    }

    /** The round trips that were made so far, over all connections. */
    long trips() {
        return trips.sum();
    }

    /** One connection; {@code asking} is whether the last packet came from the client. */
    private final class Wire {
        private final Socket client;
        private final Socket behind;
        private volatile boolean asking;

        Wire(Socket client) throws IOException {
            this.client = client;
            behind = new Socket(InetAddress.getLoopbackAddress(), server);
            client.setTcpNoDelay(true);
            behind.setTcpNoDelay(true);
            forward(client, behind, true);
            forward(behind, client, false);
        }

        private void forward(Socket from, Socket to, boolean toServer) {
            BlockingQueue<Packet> onTheWay = new LinkedBlockingQueue<>();
            start("in", () -> read(from, onTheWay, toServer));
            start("out", () -> write(to, onTheWay));
        }

        private void read(Socket from, BlockingQueue<Packet> onTheWay, boolean toServer) {
            byte[] buffer = new byte[BYTES];
            try {
                InputStream in = from.getInputStream();
                for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
                    if (toServer && !asking) {
                        trips.increment();
                    }
                    asking = toServer;
                    onTheWay.add(new Packet(Arrays.copyOf(buffer, n), System.nanoTime() + nanosEachWay));
                }
            } catch (IOException e) {
                // the other side has gone: so does this one
            } finally {
                onTheWay.add(new Packet(new byte[0], System.nanoTime()));
            }
        }

        private void write(Socket to, BlockingQueue<Packet> onTheWay) {
            try (client;
                    behind) {
                OutputStream out = to.getOutputStream();
                for (Packet packet = onTheWay.take(); packet.bytes.length > 0; packet = onTheWay.take()) {
                    for (long left = packet.due - System.nanoTime(); left > 0; left = packet.due - System.nanoTime()) {
                        LockSupport.parkNanos(left);
                    }
                    out.write(packet.bytes);
                }
            } catch (IOException e) {
                // as above
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
    }

    private void accept() {
        try {
            while (!door.isClosed()) {
                new Wire(door.accept());
            }
        } catch (IOException e) {
            if (!door.isClosed()) {
                throw new UncheckedIOException(e);
            }
        }
    }

    private static void start(String name, Runnable work) {
        Thread thread = new Thread(work, "delayed line, " + name);
        thread.setDaemon(true);
        thread.start();
    }

    @Override
    public void close() throws IOException {
        door.close();
    }
}
