package io.bathra.examples.web;

import com.fasterxml.jackson.annotation.JsonIgnore;
import io.bathra.page.Recording;
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
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.core.annotation.Order;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.filter.OncePerRequestFilter;

/** What the last requests have executed, for developers: there when {@code harbour.trace} is true. */
@Component
@Order(0)
@ConditionalOnProperty("harbour.trace")
class LastRequests extends OncePerRequestFilter implements StatementListener {
    private static final int KEPT = 20;

    /** A request, what it has executed, and that as a page. */
    record Request(
            String what,
            int status,
            List<Line> lines,
            @JsonIgnore Recording recording) {}

    /** Something that was executed, without its values. */
    record Line(String kind, String sql, long rows, double millis, String purpose) {}

    private final ThreadLocal<List<Line>> current = new ThreadLocal<>();
    private final ThreadLocal<Recording> recording = new ThreadLocal<>();
    private final Deque<Request> last = new ArrayDeque<>();

    @Override
    protected boolean shouldNotFilter(HttpServletRequest request) {
        return !request.getRequestURI().startsWith("/api/bookings");
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        List<Line> lines = new ArrayList<>();
        Recording recorded = Recording.unattached();
        current.set(lines);
        recording.set(recorded);
        try {
            chain.doFilter(request, response);
        } finally {
            current.remove();
            recording.remove();
            synchronized (last) {
                last.addFirst(new Request(
                        request.getMethod() + " " + request.getRequestURI(),
                        response.getStatus(),
                        List.copyOf(lines),
                        recorded));
                if (last.size() > KEPT) {
                    last.removeLast();
                }
            }
        }
    }

    @Override
    public @Nullable Ending started(Executed before) {
        List<Line> lines = current.get();
        Recording recorded = recording.get();
        if (lines == null || recorded == null) {
            return null;
        }
        Ending page = recorded.started(before);
        return (done, failure) -> {
            if (page != null) {
                page.ended(done, failure);
            }
            if (done.kind() != Kind.MEMORY) {
                lines.add(line(done));
            }
        };
    }

    private static Line line(Executed done) {
        return new Line(
                done.kind().name().toLowerCase(Locale.ROOT),
                done.sql(),
                done.rows(),
                done.time().toNanos() / 1e6,
                done.purpose());
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

        /** One of the last requests as a page; 0 for the latest. */
        @GetMapping(path = "/api/trace/{back}", produces = "text/html;charset=UTF-8")
        ResponseEntity<String> page(@PathVariable int back) {
            List<Request> last = requests.list();
            if (back < 0 || back >= last.size()) {
                return ResponseEntity.notFound().build();
            }
            Request request = last.get(back);
            return ResponseEntity.ok(request.recording()
                    .page(request.what() + ", " + request.status())
                    .html());
        }
    }
}
