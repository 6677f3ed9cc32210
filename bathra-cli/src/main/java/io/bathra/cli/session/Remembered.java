package io.bathra.cli.session;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.util.Map;
import java.util.regex.Pattern;
import org.jline.reader.impl.history.DefaultHistory;

/** What was entered in this session and those before; nothing that looks as if it held a password. */
final class Remembered extends DefaultHistory {
    private static final Pattern SECRET =
            Pattern.compile("passw|pwd|identified\\s+by|secret|token", Pattern.CASE_INSENSITIVE);

    @Override
    public void add(Instant time, String line) {
        if (!SECRET.matcher(line).find()) {
            super.add(time, line);
        }
    }

    /** The file of it, for its owner alone; in the folder that the environment names for such things. */
    static Path file(Map<String, String> environment) throws IOException {
        String state = environment.get("XDG_STATE_HOME");
        Path folder = (state == null || state.isBlank()
                        ? Path.of(System.getProperty("user.home"), ".local", "state")
                        : Path.of(state))
                .resolve("bathra");
        Files.createDirectories(folder);
        Path file = folder.resolve("history");
        if (!Files.exists(file)) {
            try {
                if (folder.getFileSystem().supportedFileAttributeViews().contains("posix")) {
                    Files.createFile(
                            file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
                } else {
                    Files.createFile(file);
                }
            } catch (FileAlreadyExistsException e) {
                // another session was faster
            }
        }
        return file;
    }
}
