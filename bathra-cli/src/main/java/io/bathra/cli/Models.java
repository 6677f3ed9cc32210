package io.bathra.cli;

import io.bathra.error.BathraException;
import io.bathra.examples.harbour.Harbour;
import io.bathra.model.Model;
import io.bathra.model.ModelSource;
import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Finds the model that a user means. */
final class Models {
    private Models() {}

    /**
     * The model in a static field, else that of the only {@link ModelSource} on a class path, else the harbour's.
     *
     * @param field {@code some.package.SomeClass#FIELD}; null for none
     * @param classPath jars and folders; null for none
     * @throws BathraException when there is no such model, or more than one
     */
    static Model find(@Nullable String field, @Nullable String classPath) {
        if (field == null && classPath == null) {
            return Harbour.MODEL;
        }
        ClassLoader loader = classPath == null ? Models.class.getClassLoader() : loader(classPath);
        Thread.currentThread().setContextClassLoader(loader); // JSON codecs are looked for there
        return field != null ? inField(loader, field) : provided(loader, String.valueOf(classPath));
    }

    private static ClassLoader loader(String classPath) {
        List<URL> urls = new ArrayList<>();
        for (Path path : paths(classPath)) {
            try {
                urls.add(path.toUri().toURL());
            } catch (MalformedURLException e) {
                throw new UncheckedIOException(e);
            }
        }
        return new URLClassLoader(urls.toArray(URL[]::new), Models.class.getClassLoader());
    }

    /**
     * The jars and folders of a class path.
     *
     * @throws BathraException when one is not there
     */
    static List<Path> paths(String classPath) {
        List<Path> paths = new ArrayList<>();
        for (String entry : classPath.split(Pattern.quote(File.pathSeparator))) {
            boolean all = entry.endsWith(File.separator + "*");
            Path path = Path.of(all ? entry.substring(0, entry.length() - 2) : entry);
            if (!Files.exists(path)) {
                throw new BathraException("there is no " + path.toAbsolutePath()
                        + ", which --classpath names; build it, or mend the path");
            }
            try (Stream<Path> jars = all ? Files.list(path) : Stream.of(path)) {
                jars.filter(file -> !all || file.toString().endsWith(".jar"))
                        .sorted()
                        .forEach(paths::add);
            } catch (IOException e) {
                throw new BathraException(path + " cannot be read: " + e, e);
            }
        }
        return paths;
    }

    private static Model inField(ClassLoader loader, String name) {
        int hash = name.indexOf('#');
        if (hash <= 0 || hash == name.length() - 1) {
            throw new BathraException(
                    "--model takes a class and a static field, such as com.example.Fleet#MODEL, not '" + name + "'");
        }
        String type = name.substring(0, hash);
        String field = name.substring(hash + 1);
        try {
            Class<?> owner = Class.forName(type, true, loader);
            Field found = owner.getDeclaredField(field);
            if (!Modifier.isStatic(found.getModifiers()) || !Model.class.isAssignableFrom(found.getType())) {
                throw new BathraException(name + " is no static field with a Model");
            }
            if (!found.trySetAccessible()) {
                throw new BathraException(name + " cannot be read; make it public, in a public class");
            }
            Object model = found.get(null);
            if (model == null) {
                throw new BathraException(name + " is null");
            }
            return (Model) model;
        } catch (ClassNotFoundException e) {
            throw new BathraException(
                    "there is no class " + type + " on the class path; name it in full, and its jar in --classpath", e);
        } catch (NoSuchFieldException e) {
            throw new BathraException(type + " has no field " + field + "; name a static field with a Model", e);
        } catch (IllegalAccessException e) {
            throw new BathraException(name + " cannot be read: " + e, e);
        } catch (LinkageError e) {
            throw failed(type, e);
        }
    }

    private static Model provided(ClassLoader loader, String classPath) {
        String what = "the ModelSource on " + classPath;
        try {
            List<ServiceLoader.Provider<ModelSource>> sources =
                    ServiceLoader.load(ModelSource.class, loader).stream().toList();
            if (sources.size() == 1) {
                what = sources.get(0).type().getName();
                return Objects.requireNonNull(sources.get(0).get().model(), "model() returned null");
            }
            throw new BathraException(
                    sources.isEmpty()
                            ? classPath + " names no ModelSource in META-INF/services/" + ModelSource.class.getName()
                                    + "; name one there, or say --model some.Class#FIELD"
                            : "there are several models: "
                                    + sources.stream()
                                            .map(source -> source.type().getName())
                                            .collect(Collectors.joining(", "))
                                    + "; say which by --model some.Class#FIELD");
        } catch (BathraException e) {
            throw e;
        } catch (ServiceConfigurationError | LinkageError | RuntimeException e) {
            throw failed(what, e);
        }
    }

    /** What keeps a class from being used: as a rule, what is behind the error that the JVM tells. */
    private static BathraException failed(String what, Throwable e) {
        Throwable cause = e;
        while (cause.getCause() != null && !(cause instanceof BathraException)) {
            cause = cause.getCause();
        }
        return new BathraException(what + " cannot be used: " + why(cause), e);
    }

    private static String why(Throwable cause) {
        String message = String.valueOf(cause.getMessage());
        if (cause instanceof BathraException || cause instanceof ServiceConfigurationError) {
            return message;
        } else if (cause instanceof NoClassDefFoundError || cause instanceof ClassNotFoundException) {
            return "it needs the class " + message.replace('/', '.') + ", which is not there; add its jar or folder to"
                    + " --classpath";
        } else if (cause instanceof UnsupportedClassVersionError) {
            return message.replace('/', '.') + "; run the tool by that Java, or compile with --release "
                    + Runtime.version().feature();
        }
        StackTraceElement[] trace = cause.getStackTrace();
        return cause + (trace.length == 0 ? "" : " (at " + trace[0] + ")");
    }
}
