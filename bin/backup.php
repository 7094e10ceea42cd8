<?php

declare(strict_types=1);

// What bin/backup, bin/verify and bin/restore need of backups, without a server:
//   manifest FOLDER TAKEN_AT    writes FOLDER/manifest.json over all that is in it
//   verify FOLDER               names what is wrong with it, a line each; 1 where anything is
//   seal FILE | open FILE       the secrets of standard input, encrypted into FILE, or out of it; the passphrase is
//                               in HEARTWOOD_BACKUP_PASSPHRASE
//   outdated FOLDER             names of the backups in it that may go

use Heartwood\Core\Backup\Manifest;
use Heartwood\Core\Backup\Retention;
use Heartwood\Core\Rules;

require dirname(__DIR__) . '/vendor/autoload.php';

/** @return array<string, array{bytes: int, sha256: string}> */
function found(string $folder): array
{
    $out = [];
    $all = new RecursiveIteratorIterator(new RecursiveDirectoryIterator($folder, FilesystemIterator::SKIP_DOTS));
    foreach ($all as $file) {
        /** @var SplFileInfo $file */
        $path = substr($file->getPathname(), strlen($folder) + 1);
        if ($path !== 'manifest.json' && $file->isFile() && !$file->isLink()) {
            $out[$path] = ['bytes' => (int) $file->getSize(), 'sha256' => (string) hash_file('sha256', $file->getPathname())];
        }
    }

    return $out;
}

function fail(string $why): never
{
    fwrite(STDERR, "heartwood: $why.\n");
    exit(1);
}

function passphrase(): string
{
    $said = (string) getenv('HEARTWOOD_BACKUP_PASSPHRASE');

    return strlen($said) >= 12 ? $said : fail('the passphrase has twelve letters or more: say it in HEARTWOOD_BACKUP_PASSPHRASE');
}

/** A key out of a passphrase: slow to guess at (Argon2id, RFC 9106). */
function keyOf(string $passphrase, string $salt): string
{
    return sodium_crypto_pwhash(
        SODIUM_CRYPTO_SECRETBOX_KEYBYTES,
        $passphrase,
        $salt,
        SODIUM_CRYPTO_PWHASH_OPSLIMIT_MODERATE,
        SODIUM_CRYPTO_PWHASH_MEMLIMIT_MODERATE,
        SODIUM_CRYPTO_PWHASH_ALG_ARGON2ID13,
    );
}

[, $verb, $at] = [...$argv, '', ''];
$folder = rtrim($at, '/');
switch ($verb) {
    case 'manifest':
        file_put_contents("$folder/manifest.json", Manifest::of((string) ($argv[3] ?? ''), Rules::VERSION, found($folder))->toJson());
        exit(0);
    case 'verify':
        $manifest = Manifest::read((string) @file_get_contents("$folder/manifest.json"));
        if (is_string($manifest)) {
            fail($manifest);
        }
        $problems = $manifest->problems(found($folder));
        // A photo or a log lies under the hash of what it is: one that does not is none, whatever the manifest says.
        foreach ($manifest->members as $path => $of) {
            if (preg_match('#^(photos|logs)/(?:../)?([0-9a-f]{64})(?:\.jpg)?$#D', $path, $m) === 1 && $m[2] !== $of['sha256']) {
                $problems[] = "$path is not what its name says";
            }
        }
        foreach (array_slice($problems, 0, 20) as $p) {
            echo "$p\n";
        }
        if ($problems !== []) {
            fail(count($problems) . ' things are wrong with this backup');
        }
        $bytes = array_sum(array_column($manifest->members, 'bytes'));
        printf("taken %s, %d files, %.1f MB\n", $manifest->takenAt, count($manifest->members), $bytes / 1e6);
        exit(0);
    case 'seal':
        $salt = random_bytes(SODIUM_CRYPTO_PWHASH_SALTBYTES);
        $nonce = random_bytes(SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);
        $sealed = sodium_crypto_secretbox((string) stream_get_contents(STDIN), $nonce, keyOf(passphrase(), $salt));
        file_put_contents($at, "heartwood.keys 1\n" . base64_encode($salt . $nonce . $sealed) . "\n");
        chmod($at, 0600);
        exit(0);
    case 'open':
        [$head, $body] = explode("\n", (string) @file_get_contents($at), 2) + ['', ''];
        $raw = (string) base64_decode(trim($body), true);
        $after = SODIUM_CRYPTO_PWHASH_SALTBYTES + SODIUM_CRYPTO_SECRETBOX_NONCEBYTES;
        if ($head !== 'heartwood.keys 1' || strlen($raw) <= $after) {
            fail("$at holds no keys of a backup");
        }
        $open = sodium_crypto_secretbox_open(
            substr($raw, $after),
            substr($raw, SODIUM_CRYPTO_PWHASH_SALTBYTES, SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            keyOf(passphrase(), substr($raw, 0, SODIUM_CRYPTO_PWHASH_SALTBYTES)),
        );
        echo $open === false ? fail('this passphrase does not open these keys, or the file was altered') : $open;
        exit(0);
    case 'outdated':
        $taken = [];
        foreach (glob("$folder/nightly-*", GLOB_ONLYDIR) ?: [] as $one) {
            $m = Manifest::read((string) @file_get_contents("$one/manifest.json"));
            if ($m instanceof Manifest) {
                $taken[basename($one)] = new DateTimeImmutable($m->takenAt);
            }
        }
        echo implode("\n", Retention::outdated($taken)), "\n";
        exit(0);
    default:
        fail("backup.php knows no '$verb'");
}
