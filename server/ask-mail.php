<?php

declare(strict_types=1);

// Hands one letter to a mail server and looks for it in a mailbox; whoever started it ends it where that takes too long.
// In, as JSON: {fields, ip, mailbox, of, secrets}, as RoundTrip has them; out, as JSON: {phases, reached, fault, late}.

use Olivine\App\Collect\Check\Mail\RoundTrip;
use Olivine\App\Collect\Definition\Encryption;
use Olivine\App\Collect\Definition\MailboxKind;
use Olivine\App\Collect\Definition\MailFields;

require dirname(__DIR__) . '/vendor/autoload.php';

/**
 * @var array{
 *     fields: array{host: string, from: string, to: string, mailboxHost: string, mailboxUser: string, mailbox: string, port: int|null, encryption: string,
 *         user: string, mailboxPort: int|null, mailboxEncryption: string, mayBeOurs: bool, patienceSeconds: float, seenWithinSeconds: float, kind?: string},
 *     ip: string, mailbox: string, of: string, secrets: array<string, string>
 * } $ask
 */
$ask = json_decode((string) stream_get_contents(STDIN), true, 8, JSON_THROW_ON_ERROR);
$written = $ask['fields'];
unset($written['kind']);
$fields = new MailFields(...[
    ...$written,
    'mailbox' => MailboxKind::from($written['mailbox']),
    'encryption' => Encryption::from($written['encryption']),
    'mailboxEncryption' => Encryption::from($written['mailboxEncryption']),
]);
$exchange = (new RoundTrip($fields, $ask['ip'], $ask['mailbox'], $ask['of'], $ask['secrets']))->made();
echo json_encode([
    'phases' => $exchange->phases->named(),
    'reached' => $exchange->reached->value,
    'fault' => $exchange->fault,
    'late' => $exchange->late,
], JSON_THROW_ON_ERROR);
