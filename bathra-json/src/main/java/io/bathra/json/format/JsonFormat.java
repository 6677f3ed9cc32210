package io.bathra.json.format;

import java.io.InputStream;
import java.io.OutputStream;

/** A library that writes JSON token by token, and reads it so. Safe to share between threads. */
public interface JsonFormat {
    /**
     * {@return what writes UTF-8 into a stream, which is left open}
     *
     * @param out where it is written; it stays open
     */
    JsonSink sink(OutputStream out);

    /**
     * {@return what reads a text from a stream, which is left open} It should bound how deep and how long a text may
     * be.
     *
     * @param in where it is read
     */
    JsonSource source(InputStream in);

    /**
     * {@return the same for a text that is here already, in UTF-8}
     *
     * @param text the text
     */
    JsonSource source(byte[] text);
}
