package io.bathra.access;

/** Whether the program is a native image, which knows only what its builder was told, and compiles no handles. */
final class NativeImage {
    /** As GraalVM says it, while an image is built and in it. */
    static final boolean HERE = System.getProperty("org.graalvm.nativeimage.imagecode") != null;

    private NativeImage() {}
}
