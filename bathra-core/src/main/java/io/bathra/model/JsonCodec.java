package io.bathra.model;

import java.lang.reflect.Type;

/**
 * Writes objects as JSON and reads them back. Bathra has no JSON library of its own: an application that declares
 * attributes with {@link Declare#json()} provides this service, through {@code META-INF/services} or its module
 * declaration, on top of the library that it uses anyway.
 */
public interface JsonCodec {
    /**
     * {@return the object as JSON; the same text for equal objects}
     *
     * @param value the value
     * @param type the class
     */
    String write(Object value, Type type);

    /**
     * {@return the object that this text describes}
     *
     * @param json the text
     * @param type the type of the value
     */
    Object read(String json, Type type);
}
