package io.bathra.read;

import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import java.util.Iterator;
import java.util.List;
import java.util.Spliterator;
import java.util.Spliterators.AbstractSpliterator;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.jspecify.annotations.Nullable;

/** Objects one after the other, read page by page. */
final class PageStream<E> extends AbstractSpliterator<E> {
    /** So many objects are read at once. */
    static final int SIZE = 1_000;

    private final Function<@Nullable Mark, Page<E>> read;
    private Iterator<E> items = List.<E>of().iterator();
    private @Nullable Mark mark;
    private boolean begun;

    private PageStream(Function<@Nullable Mark, Page<E>> read) {
        super(Long.MAX_VALUE, Spliterator.ORDERED | Spliterator.NONNULL);
        this.read = read;
    }

    /**
     * A stream of pages.
     *
     * @param read reads the page behind a mark, or the first one
     */
    static <E> Stream<E> of(Function<@Nullable Mark, Page<E>> read) {
        return StreamSupport.stream(new PageStream<>(read), false);
    }

    @Override
    public boolean tryAdvance(Consumer<? super E> action) {
        if (!items.hasNext() && (!begun || mark != null)) {
            Page<E> page = read.apply(mark);
            begun = true;
            items = page.items().iterator();
            mark = page.mark();
        }
        if (!items.hasNext()) {
            return false;
        }
        action.accept(items.next());
        return true;
    }
}
