package io.bathra.testing;

import java.io.Closeable;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.concurrent.atomic.AtomicReference;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Stands between a driver and its server, and cuts the connection when COMMIT comes by. */
public final class CuttingProxy implements Closeable {
    /** Where the next COMMIT is cut off. */
    public enum Cut {
        /** The server never gets it. */
        BEFORE,
        /** The server has committed; the driver never gets the reply. */
        AFTER
    }

    private static final byte[] COMMIT = "COMMIT".getBytes(StandardCharsets.US_ASCII);

    private static final Pattern PORT = Pattern.compile("(?<=//(?:127\\.0\\.0\\.1|localhost):)\\d+");

    private final ServerSocket listener;
    private final String serverUrl;
    private final int serverPort;
    private final AtomicReference<Cut> cut = new AtomicReference<>();

    /** Stands in front of an empty database. */
    public CuttingProxy(TestDatabase database) throws IOException {
        serverUrl = database.emptyUrl();
        Matcher port = PORT.matcher(serverUrl);
        if (!port.find()) {
            throw new IllegalArgumentException(serverUrl + " leads to no port of this machine");
        }
        serverPort = Integer.parseInt(port.group());
        listener = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        start(this::accept);
    }

    /** The way to the database by the proxy. */
    public String url() {
        return PORT.matcher(serverUrl).replaceFirst(String.valueOf(listener.getLocalPort()));
    }

    /** Cuts off the next COMMIT, once. */
    public void cutNext(Cut where) {
        cut.set(where);
    }

    /** Whether the cut is still to come. */
    public boolean isArmed() {
        return cut.get() != null;
    }

    private void accept() throws IOException {
        while (!listener.isClosed()) {
            Socket client = listener.accept();
            Socket server = new Socket(InetAddress.getLoopbackAddress(), serverPort);
            client.setTcpNoDelay(true);
            server.setTcpNoDelay(true);
            AtomicReference<Cut> taken = new AtomicReference<>();
            start(() -> towardsServer(client, server, taken));
            start(() -> towardsClient(client, server, taken));
        }
    }

    private void towardsServer(Socket client, Socket server, AtomicReference<Cut> taken) throws IOException {
        try (client;
                server) {
            byte[] buffer = new byte[65_536];
            InputStream in = client.getInputStream();
            OutputStream out = server.getOutputStream();
            for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
                if (isCommit(buffer, n)) {
                    taken.set(cut.getAndSet(null));
                    if (taken.get() == Cut.BEFORE) {
                        return;
                    }
                }
                out.write(buffer, 0, n);
            }
        }
    }

    private static void towardsClient(Socket client, Socket server, AtomicReference<Cut> taken) throws IOException {
        try (client;
                server) {
            byte[] buffer = new byte[65_536];
            InputStream in = server.getInputStream();
            OutputStream out = client.getOutputStream();
            for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
                if (taken.get() == Cut.AFTER) {
                    return; // this is the reply
                }
                out.write(buffer, 0, n);
            }
        }
    }

    /** A message of the driver that is nothing but COMMIT, with the head and tail that the protocol gives it. */
    private static boolean isCommit(byte[] message, int length) {
        for (int at = 0; length < 64 && at + COMMIT.length <= length; at++) {
            if (Arrays.equals(message, at, at + COMMIT.length, COMMIT, 0, COMMIT.length)) {
                return true;
            }
        }
        return false;
    }

    private interface Job {
        void run() throws IOException;
    }

    private static void start(Job job) {
        Thread thread = new Thread(() -> {
            try {
                job.run();
            } catch (IOException e) {
                // a cut connection ends so at its other end
            }
        });
        thread.setDaemon(true);
        thread.start();
    }

    @Override
    public void close() throws IOException {
        listener.close();
    }
}
