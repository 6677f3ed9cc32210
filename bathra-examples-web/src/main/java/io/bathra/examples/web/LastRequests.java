package io.bathra.examples.web;

import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.StatementListener;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.filter.OncePerRequestFilter;

/** What the last requests have executed, for developers: there when {@code harbour.trace} is true. */
@Component
@Order(0)
@ConditionalOnProperty("harbour.trace")
class LastRequests extends OncePerRequestFilter implements StatementListener {
    private static final int KEPT = 20;

    /** A request, and what it has executed. */
    record Request(String what, int status, List<Line> lines) {}

    /** Something that was executed, without its values. */
    record Line(String kind, String sql, long rows, double millis, String purpose) {}

    private final ThreadLocal<List<Line>> current = new ThreadLocal<>();
    private final Deque<Request> last = new ArrayDeque<>();

    @Override
    protected boolean shouldNotFilter(HttpServletRequest request) {
        return !request.getRequestURI().startsWith("/api/bookings");
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        List<Line> lines = new ArrayList<>();
        current.set(lines);
        try {
            chain.doFilter(request, response);
        } finally {
            current.remove();
            synchronized (last) {
                last.addFirst(new Request(
                        request.getMethod() + " " + request.getRequestURI(), response.getStatus(), List.copyOf(lines)));
                if (last.size() > KEPT) {
                    last.removeLast();
                }
            }
        }
    }

    @Override
    public @Nullable Ending started(Executed before) {
        List<Line> lines = current.get();
        return lines == null || before.kind() == Kind.MEMORY
                ? null
                : (done, failure) -> lines.add(new Line(
                        done.kind().name().toLowerCase(java.util.Locale.ROOT),
                        done.sql(),
                        done.rows(),
                        done.time().toNanos() / 1e6,
                        done.purpose()));
    }

    private List<Request> list() {
        synchronized (last) {
            return List.copyOf(last);
        }
    }

    /** Over HTTP. */
    @RestController
    @ConditionalOnProperty("harbour.trace")
    static class Shown {
        private final LastRequests requests;

        Shown(LastRequests requests) {
            this.requests = requests;
        }

        @GetMapping("/api/trace")
        List<Request> trace() {
            return requests.list();
        }
    }
}
