package io.bathra.junit;

import io.bathra.error.BathraException;
import org.junit.jupiter.api.extension.AfterAllCallback;
import org.junit.jupiter.api.extension.AfterEachCallback;
import org.junit.jupiter.api.extension.BeforeAllCallback;
import org.junit.jupiter.api.extension.BeforeEachCallback;
import org.junit.jupiter.api.extension.ExtensionContext;
import org.junit.jupiter.api.extension.ParameterContext;
import org.junit.jupiter.api.extension.ParameterResolver;
import org.junit.platform.commons.support.AnnotationSupport;
import org.junit.platform.commons.support.ReflectionSupport;

/** The store of a class that is annotated {@link WithStore}. */
final class AnnotatedStore
        implements BeforeAllCallback, BeforeEachCallback, AfterEachCallback, AfterAllCallback, ParameterResolver {
    private static final ExtensionContext.Namespace NAMESPACE = ExtensionContext.Namespace.create(AnnotatedStore.class);

    @Override
    public void beforeAll(ExtensionContext context) {
        extension(context).beforeAll(context);
    }

    @Override
    public void beforeEach(ExtensionContext context) {
        extension(context).beforeEach(context);
    }

    @Override
    public void afterEach(ExtensionContext context) {
        extension(context).afterEach(context);
    }

    @Override
    public void afterAll(ExtensionContext context) {
        extension(context).afterAll(context);
    }

    @Override
    public boolean supportsParameter(ParameterContext parameter, ExtensionContext context) {
        return extension(context).supportsParameter(parameter, context);
    }

    @Override
    public Object resolveParameter(ParameterContext parameter, ExtensionContext context) {
        return extension(context).resolveParameter(parameter, context);
    }

    private static StoreExtension extension(ExtensionContext context) {
        Class<?> test = context.getRequiredTestClass();
        return context.getRoot()
                .getStore(NAMESPACE)
                .getOrComputeIfAbsent(test, AnnotatedStore::made, StoreExtension.class);
    }

    private static StoreExtension made(Class<?> test) {
        WithStore wanted = AnnotationSupport.findAnnotation(test, WithStore.class)
                .orElseThrow(() -> new BathraException(test.getName() + " is not annotated @WithStore"));
        StoreExtension extension = StoreExtension.of(
                        ReflectionSupport.newInstance(wanted.model()).model())
                .on(wanted.on().database());
        return wanted.rollingBack() ? extension.rollingBack() : extension;
    }
}
