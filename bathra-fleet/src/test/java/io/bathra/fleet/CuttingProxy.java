package io.bathra.fleet;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;

/**
 * Stands between clients and servers, and cuts the connection at the next COMMIT when told so: before the server has
 * it, while the server works on what goes over with it, or after the server has answered and before the client hears
 * of it.
 */
final class CuttingProxy implements AutoCloseable {
    enum Cut {
        BEFORE_THE_SERVER_HAS_IT,
        AFTER_THE_SERVER_HAS_ANSWERED,
        WHILE_THE_SERVER_WORKS
    }

    private final List<ServerSocket> sockets = new ArrayList<>();
    private final AtomicReference<Cut> next = new AtomicReference<>();
    private final AtomicInteger done = new AtomicInteger();

    /**
     * @param servers as host:port
     */
    CuttingProxy(List<String> servers) {
        for (String server : servers) {
            try {
                ServerSocket socket = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
                sockets.add(socket);
                daemon(() -> accept(socket, server));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }

    /** Where clients come in, as host:port, in the order of the servers. */
    List<String> addresses() {
        return sockets.stream()
                .map(socket -> "127.0.0.1:" + socket.getLocalPort())
                .toList();
    }

    /** The next COMMIT that anybody sends is cut. */
    void cutNext(Cut cut) {
        next.set(cut);
    }

    /** How many have been cut. */
    int cuts() {
        return done.get();
    }

    private static void daemon(Runnable work) {
        Thread thread = new Thread(work, "proxy");
        thread.setDaemon(true);
        thread.start();
    }

    private void accept(ServerSocket socket, String server) {
        String[] parts = server.split(":");
        while (!socket.isClosed()) {
            try {
                Socket client = socket.accept();
                try {
                    new Pair(client, new Socket(parts[0], Integer.parseInt(parts[1]))).start();
                } catch (IOException e) {
                    client.close(); // the server is away
                }
            } catch (IOException e) {
                // closed
            }
        }
    }

    @Override
    public void close() throws IOException {
        for (ServerSocket socket : sockets) {
            socket.close();
        }
    }

    /** One connection through it. */
    private final class Pair {
        private final Socket client;
        private final Socket server;
        private volatile boolean swallowing;
        private boolean abandoning;

        Pair(Socket client, Socket server) throws IOException {
            this.client = client;
            this.server = server;
            client.setTcpNoDelay(true);
            server.setTcpNoDelay(true);
        }

        void start() {
            daemon(() -> copy(client, server, true));
            daemon(() -> copy(server, client, false));
        }

        private void copy(Socket from, Socket to, boolean asks) {
            byte[] buffer = new byte[1 << 16];
            try {
                InputStream in = from.getInputStream();
                OutputStream out = to.getOutputStream();
                for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
                    if (asks && commits(buffer, read)) {
                        Cut cut = next.getAndSet(null);
                        if (cut == Cut.BEFORE_THE_SERVER_HAS_IT) {
                            done.incrementAndGet();
                            break;
                        }
                        swallowing = cut == Cut.AFTER_THE_SERVER_HAS_ANSWERED;
                        abandoning = cut == Cut.WHILE_THE_SERVER_WORKS;
                    }
                    if (!asks && swallowing) {
                        done.incrementAndGet(); // the server has answered
                        break;
                    }
                    out.write(buffer, 0, read);
                    out.flush();
                    if (asks && abandoning) {
                        done.incrementAndGet();
                        break;
                    }
                }
            } catch (IOException e) {
                // the other direction has closed both
            } finally {
                close(client);
                close(server);
            }
        }

        /** The word may be anywhere: statements that go over together end with it. */
        private boolean commits(byte[] bytes, int length) {
            return next.get() != null
                    && new String(bytes, 0, length, StandardCharsets.ISO_8859_1)
                            .toLowerCase(Locale.ROOT)
                            .contains("commit");
        }

        private void close(Socket one) {
            try {
                one.close();
            } catch (IOException e) {
                // nothing more can be done
            }
        }
    }
}
