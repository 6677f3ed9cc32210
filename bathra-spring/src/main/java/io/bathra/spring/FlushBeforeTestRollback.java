package io.bathra.spring;

import org.springframework.test.context.TestContext;
import org.springframework.test.context.TestExecutionListener;
import org.springframework.test.context.transaction.TestTransaction;

/**
 * Writes what is pending at the end of a test whose transaction is rolled back, so that objects which cannot be stored
 * fail it. Where something has failed in the transaction before, as the test may have expected, nothing is written.
 * Registered by itself in every test that uses Spring's test context.
 */
public final class FlushBeforeTestRollback implements TestExecutionListener {
    @Override
    public void afterTestExecution(TestContext context) {
        if (context.getTestException() == null && context.hasApplicationContext() && TestTransaction.isActive()) {
            context.getApplicationContext().getBeanProvider(Units.class).forEach(units -> {
                HostedUnit hosted = units.current();
                if (hosted != null && !hosted.isDoomed()) {
                    hosted.flush();
                }
            });
        }
    }
}
