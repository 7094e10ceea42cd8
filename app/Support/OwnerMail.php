<?php

declare(strict_types=1);

namespace App\Support;

use App\Actions\Refused;
use App\Models\Workshop;
use Illuminate\Mail\Message as Letter;
use Illuminate\Support\Facades\Crypt;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Lang;
use Illuminate\Support\Facades\Mail;
use Symfony\Component\HttpFoundation\IpUtils;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;

/** Hands a message to the mail server that the shop has named in its settings. */
final class OwnerMail
{
    private const TIMEOUT_S = 10;

    /** Ports at which a mail server of this machine may be (RFC 5321, RFC 6409, RFC 8314). */
    private const OWN_PORTS = [25, 465, 587];

    /** Where no mail server is, and secrets of a host may be (RFC 3927, RFC 6890). */
    private const NEVER = ['0.0.0.0/8', '169.254.0.0/16', '224.0.0.0/4', '::/128', 'fe80::/10', 'ff00::/8'];

    private const LOOPBACK = ['127.0.0.0/8', '::1/128'];

    public static function isSet(Workshop $shop): bool
    {
        return $shop->said()->text('mail_host') !== '' && $shop->said()->text('mail_sender') !== '';
    }

    /**
     * A text out of lang/.
     *
     * @param  array<string, string>  $with
     */
    public static function words(string $key, array $with = []): string
    {
        $text = Lang::get("messages.$key", $with);

        return is_string($text) ? $text : $key;
    }

    /** @throws Refused it is not set, not reached, or does not take it: each with its mend */
    public static function send(Workshop $shop, string $to, string $subject, string $body): void
    {
        $said = $shop->said();
        if (!self::isSet($shop)) {
            throw self::not('Name the mail server and the sender in the settings first, or copy the message by hand.');
        }
        [$host, $port] = [$said->text('mail_host'), $said->int('mail_port')];
        self::guard($host, $port);
        $security = $said->text('mail_security');
        $user = $said->text('mail_user');
        $stored = DB::table('mail_secrets')->where('workshop_id', $shop->id)->value('password');
        $mailer = Mail::build([
            'transport' => 'smtp',
            'scheme' => $security === 'tls' ? 'smtps' : 'smtp',
            'host' => $host,
            'port' => $port,
            'username' => $user === '' ? null : $user,
            'password' => $user === '' || $stored === null ? null : Crypt::decryptString((string) $stored),
            'auto_tls' => $security === 'starttls',
            'require_tls' => $security === 'starttls',
            'timeout' => self::TIMEOUT_S,
        ]);
        try {
            $mailer->raw($body, fn(Letter $m) => $m->to($to)->from($said->text('mail_sender'), $shop->name)->subject($subject));
        } catch (TransportExceptionInterface $e) {
            throw self::not('The mail server did not take it: ' . self::plain($e->getMessage()));
        }
    }

    /** Nothing of this machine but a mail server is spoken to. */
    private static function guard(string $host, int $port): void
    {
        $stand = (int) config('heartwood.mail_port');
        foreach (filter_var($host, FILTER_VALIDATE_IP) !== false ? [$host] : (gethostbynamel($host) ?: []) as $address) {
            $own = IpUtils::checkIp($address, self::LOOPBACK);
            if (IpUtils::checkIp($address, self::NEVER) || ($own && $port !== $stand && !in_array($port, self::OWN_PORTS, true))) {
                throw self::not("$host at port $port is no mail server: see the settings.");
            }
        }
    }

    /** One line without what a server may have put in it. */
    private static function plain(string $text): string
    {
        return mb_substr(trim((string) preg_replace('/[\x00-\x1f\x7f]+/', ' ', $text)), 0, 200);
    }

    private static function not(string $text): Refused
    {
        return new Refused('no-mail', $text, 409);
    }
}
