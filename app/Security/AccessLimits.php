<?php

declare(strict_types=1);

namespace App\Security;

/**
 * Every number that decides who gets in, with its unit and source; how long a session lasts is the shop's to say
 * (core/Shop/Settings.php). ASVS is OWASP's, version 4.0.3.
 */
final class AccessLimits
{
    /** Characters of a password at least (ASVS 2.1.1). */
    public const PASSWORD_MIN = 12;

    /** Characters of a password at most (ASVS 2.1.2). */
    public const PASSWORD_MAX = 128;

    /** Digits of the personal code at a shared bench; good only inside a session that a password opened (ASVS 2.2.1 bounds the tries). */
    public const CODE_DIGITS = 6;

    /** Minutes in which failed sign-ins are counted. */
    public const WINDOW_MINUTES = 15;

    /** Failures of one account within the window (ASVS 2.2.1: no more than 100 an hour). */
    public const ACCOUNT_FAILURES = 10;

    /** Failures from one address within the window: a bench is shared by several people. */
    public const ADDRESS_FAILURES = 40;

    /** Wrong personal codes within one session before a password is asked for. */
    public const CODE_FAILURES = 5;

    /** Minutes for which a proved password opens what asks for it anew: people, settings, forgetting, a release (ASVS 3.7.1). */
    public const PROVED_MINUTES = 15;

    /** Days an invitation or a reset is good for. */
    public const INVITATION_DAYS = 3;

    /** Hours a set-up code is good for. */
    public const SETUP_HOURS = 24;

    /** Hours a link lets a phone add photos to a job: a working day. */
    public const PHONE_HOURS = 8;

    /** Photos that one such link takes. */
    public const PHONE_PHOTOS = 400;

    /** Readings that one owner's link takes in an hour. */
    public const OWNER_READINGS_HOUR = 30;

    /** Photos of its display that one owner's link takes in an hour. */
    public const OWNER_PHOTOS_HOUR = 12;

    /** Bytes of chance in such a link: 256 bits (ASVS 2.6.2 asks for 112 where tries are not limited). */
    public const LINK_BYTES = 32;

    /** Seconds one code of the second factor is shown (RFC 6238, 4.1). */
    public const TOTP_STEP_S = 30;

    /** Steps before and after now whose code is taken, for clocks that differ (RFC 6238, 5.2). */
    public const TOTP_DRIFT_STEPS = 1;

    /** Recovery codes handed out with the second factor. */
    public const RECOVERY_CODES = 10;

    /** Seconds between two notes of when a session was last used. */
    public const SEEN_EVERY_S = 20;

    /** Days that idempotency keys and failed sign-ins are kept. */
    public const KEEP_KEYS_DAYS = 3;
}
