package io.bathra.cli.session;

import java.util.HashMap;
import java.util.Map;
import jdk.jshell.execution.LoaderDelegate;
import jdk.jshell.spi.ExecutionControl.ClassBytecodes;

/** Loads the classes that are made of entries, beside those of the model. */
final class SnippetLoader extends ClassLoader implements LoaderDelegate {
    private final Map<String, byte[]> made = new HashMap<>();

    SnippetLoader(ClassLoader model) {
        super("entries", model);
    }

    @Override
    public void load(ClassBytecodes[] classes) {
        for (ClassBytecodes one : classes) {
            synchronized (made) {
                made.put(one.name(), one.bytecodes());
            }
        }
    }

    @Override
    public Class<?> findClass(String name) throws ClassNotFoundException {
        Class<?> loaded = findLoadedClass(name);
        if (loaded != null) {
            return loaded;
        }
        byte[] bytes;
        synchronized (made) {
            bytes = made.remove(name);
        }
        if (bytes == null) {
            throw new ClassNotFoundException(name);
        }
        return defineClass(name, bytes, 0, bytes.length);
    }

    /** Nothing is redefined: the shell gives what is entered again another name. */
    @Override
    public void classesRedefined(ClassBytecodes[] classes) {}

    /** The class path is the model's, from the beginning. */
    @Override
    public void addToClasspath(String path) {}
}
