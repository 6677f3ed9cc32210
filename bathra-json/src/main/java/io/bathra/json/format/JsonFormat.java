package io.bathra.json.format;

import java.io.InputStream;
import java.io.OutputStream;

/** A library that writes JSON token by token, and reads it so. Safe to share between threads. */
public interface JsonFormat {
    /** What writes UTF-8 into a stream, which is left open. */
    JsonSink sink(OutputStream out);

    /** What reads a text from a stream, which is left open. It should bound how deep and how long a text may be. */
    JsonSource source(InputStream in);

    /** The same for a text that is here already, in UTF-8. */
    JsonSource source(byte[] text);
}
