package io.bathra.examples.harbour;

/** What a certificate is about. */
public enum CertificateKind {
    CLASS,
    LOAD_LINE,
    RADIO
}
