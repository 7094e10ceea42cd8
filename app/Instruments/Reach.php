<?php

declare(strict_types=1);

namespace App\Instruments;

use Symfony\Component\HttpFoundation\IpUtils;

/**
 * Where an instrument may be: at the addresses that the owner has named, never at this machine's own services, link-local
 * or other special addresses. A name is resolved once, and the address that was judged is the one that is spoken to.
 */
final class Reach
{
    /** Never an instrument, whatever the owner says (RFC 6890; 169.254.169.254 is where clouds keep their secrets). */
    private const NEVER = [
        '0.0.0.0/8',
        '127.0.0.0/8',
        '169.254.0.0/16',
        '192.0.0.0/24',
        '192.0.2.0/24',
        '198.18.0.0/15',
        '198.51.100.0/24',
        '203.0.113.0/24',
        '224.0.0.0/4',
        '240.0.0.0/4',
        '::/128',
        '::1/128',
        '::ffff:0:0/96',
        '64:ff9b::/96',
        '100::/64',
        '2001:db8::/32',
        'fd00:ec2::/32',
        'fe80::/10',
        'ff00::/8',
    ];

    private const LOOPBACK = ['127.0.0.0/8', '::1/128'];

    /**
     * @param  list<string>  $networks  named by the owner: addresses, or networks as address/length
     * @param  list<int>  $benchPorts  of the simulated bench, which alone is spoken to on this machine
     * @param  list<string>  $own  addresses of this machine
     */
    public function __construct(private readonly array $networks, private readonly array $benchPorts, private readonly array $own) {}

    /** With what the owner has said and this machine is. */
    public static function of(string $lines): self
    {
        return new self(
            self::lines($lines),
            array_values(array_map(intval(...), (array) config('heartwood.bench_ports'))),
            self::machine(),
        );
    }

    /**
     * The address to speak to, or why not, with the mend.
     *
     * @return array{address: string|null, why: string}
     */
    public function judge(string $host, int $port): array
    {
        $address = $this->resolve($host);
        if ($address === null) {
            return ['address' => null, 'why' => 'This name leads to no address.'];
        }
        if (IpUtils::checkIp($address, self::LOOPBACK)) {
            return in_array($port, $this->benchPorts, true)
                ? ['address' => $address, 'why' => '']
                : ['address' => null, 'why' => 'On this machine only the simulated bench is spoken to.'];
        }
        if (IpUtils::checkIp($address, self::NEVER) || in_array($address, $this->own, true)) {
            return ['address' => null, 'why' => 'No instrument is at this address: it belongs to this machine or to the network itself.'];
        }
        if ($this->networks === [] || !IpUtils::checkIp($address, $this->networks)) {
            return ['address' => null, 'why' => 'The owner has not named this address: Settings, Addresses of instruments.'];
        }

        return ['address' => $address, 'why' => ''];
    }

    /** Whether this is the simulated bench, which everybody on this machine shares. */
    public function isBench(string $address, int $port): bool
    {
        return IpUtils::checkIp($address, self::LOOPBACK) && in_array($port, $this->benchPorts, true);
    }

    /** What is wrong with the lines an owner typed; null when nothing is. */
    public static function complaint(string $lines): ?string
    {
        foreach (self::lines($lines) as $line) {
            $parts = explode('/', $line, 2);
            [$address, $length] = [$parts[0], $parts[1] ?? null];
            $bits =
                filter_var($address, FILTER_VALIDATE_IP, FILTER_FLAG_IPV4) !== false
                    ? 32
                    : (filter_var($address, FILTER_VALIDATE_IP, FILTER_FLAG_IPV6) !== false
                        ? 128
                        : 0);
            if ($bits === 0 || ($length !== null && (!ctype_digit($length) || (int) $length > $bits || (int) $length < 8))) {
                return "\"$line\" is no address and no network: write 192.168.20.14, or 192.168.20.0/24.";
            }
            if (IpUtils::checkIp($address, self::NEVER)) {
                return "\"$line\" belongs to this machine or to the network itself: no instrument is there.";
            }
        }

        return null;
    }

    private function resolve(string $host): ?string
    {
        $host = trim($host, '[]');
        if (filter_var($host, FILTER_VALIDATE_IP) !== false) {
            // 0-padded and mapped forms are made plain before they are judged.
            $packed = (string) inet_pton($host);
            $plain =
                strlen($packed) === 16 && str_starts_with($packed, str_repeat("\0", 10) . "\xff\xff")
                    ? inet_ntop(substr($packed, 12))
                    : inet_ntop($packed);

            return $plain === false ? null : $plain;
        }
        // Digits and dots that are no address would be read as one by the resolver: 2130706433, 0x7f.1, 127.1.
        if (preg_match('/^[0-9a-fx.:]+$/iD', $host) === 1 && preg_match('/[g-wyz]/i', $host) !== 1) {
            return null;
        }
        $found = gethostbynamel($host);

        return $found === false || $found === [] ? null : $found[0];
    }

    /** @return list<string> */
    private static function lines(string $lines): array
    {
        return array_values(array_filter(array_map('trim', preg_split('/[\r\n,]+/', $lines) ?: []), fn(string $l): bool => $l !== ''));
    }

    /** @return list<string> addresses that this machine answers at */
    private static function machine(): array
    {
        $own = [];
        foreach (net_get_interfaces() ?: [] as $interface) {
            foreach ($interface['unicast'] ?? [] as $a) {
                if (isset($a['address'])) {
                    $own[] = (string) $a['address'];
                }
            }
        }

        return $own;
    }
}
