<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Check\Mail\Mailbox;
use Olivine\App\Collect\Definition\MailFields;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Mail\MailCheck;
use Olivine\Core\Check\Mail\MailExchange;
use Olivine\Core\Check\Mail\MailStage;
use Olivine\Core\Check\Phases;
use React\Promise\PromiseInterface;
use Symfony\Component\Mime\Address;

/** Sends letters round, each by a program of its own. */
final class MailAsker extends AskerBeside
{
    /** What the program needs beside the time that servers take. */
    private const AROUND_SECONDS = 5.0;

    /** @throws Problem naming the field and what it must be */
    public static function check(MailFields $fields, ?int $slowMs): MailCheck
    {
        SocketChecks::address($fields->host, $fields->port());
        SocketChecks::address($fields->mailboxHost, $fields->mailboxPort(), 'mailboxHost');
        foreach (['from' => $fields->from, 'to' => $fields->to] as $field => $address) {
            try {
                new Address($address);
            } catch (\Throwable) {
                throw Problem::field("asks.{$field}", "{$field} must be a mail address such as round-trip@saltmarsh.example");
            }
        }

        return new MailCheck((int) ($fields->patienceSeconds * 1000), (int) ($fields->seenWithinSeconds * 1000), $slowMs);
    }

    protected function mostAtOnce(): int
    {
        return 20;
    }

    protected function begin(SocketRun $run): void
    {
        $fields = $run->asks;
        if (!$fields instanceof MailFields) {
            throw new \LogicException('This is asked otherwise');
        }
        $check = self::check($fields, $run->target->slowMs);
        [$times, $mailbox, $program] = [new SocketTimes(), new SocketTimes(), new ProgramBeside($this->runs->loop)];
        $over = function (MailExchange $exchange) use ($run, $fields, $check, $times): void {
            if ($this->runs->isGone($run)) {
                return;
            }
            $sent = "{$fields->address()}\nfrom {$fields->from} to {$fields->to}\nlooked for in {$fields->mailboxAddress()}";
            $judgement = $check->judge($exchange);
            $run->ends($judgement, '', SocketRun::step('', $sent, $times->ip, $exchange->phases, '', 0, $judgement->words ?: null));
            $this->runs->end($run);
        };
        $failed = static fn(string $fault) => $over(
            // A mailbox whose name leads nowhere says nothing of the mail server, which was not asked yet.
            new MailExchange($times->phases(), MailStage::Nowhere, $fault, $times->isOurs || $mailbox->isOurs || $times->ip !== '' && $mailbox->ip === ''),
        );
        $seconds = 3 * $fields->patienceSeconds + $fields->seenWithinSeconds + self::AROUND_SECONDS;
        $late = static fn() => $failed(RunsUnderWay::late($times, $seconds));
        $this->runs->begin($run, (int) ($seconds * 1000), $late, $program->end(...));
        RunsUnderWay::tried($times, $failed, fn() => $this->names->address($fields->host, $fields->port(), $times)
            ->then(fn(string $ip): PromiseInterface => $this->names->address($fields->mailboxHost, $fields->mailboxPort(), $mailbox)
                ->then(fn(string $box): PromiseInterface => $program->says(self::command('ask-mail.php'), $this->asked($run, $fields, $ip, $box))))
            ->then(
                static fn(array $said) => $over(self::exchange($said[0], $said[1], $times)),
                static fn(\Throwable $error) => $failed(RunsUnderWay::reason($error)),
            ));
    }

    /** @throws ScrapeRefused where a password was entered for another server */
    private function asked(SocketRun $run, MailFields $fields, string $ip, string $mailbox): string
    {
        $secrets = $this->logins->of($run->target, $fields);
        // Letters of another place, and of one that is tried before it is saved, are others' letters.
        $whose = $run->target->id === null ? bin2hex(random_bytes(8)) : "{$run->target->id} {$run->place} " . gethostname();

        return json_encode([
            'fields' => $fields,
            'ip' => $ip,
            'mailbox' => $mailbox,
            'of' => substr(hash('sha256', Mailbox::OF . " {$fields->from} {$fields->to} {$whose}"), 0, 24),
            'secrets' => $secrets,
        ], JSON_THROW_ON_ERROR);
    }

    private static function exchange(string $said, string $complaint, SocketTimes $times): MailExchange
    {
        $answer = json_decode($said, true, 4);
        if (!is_array($answer) || !is_array($answer['phases'] ?? null)) {
            return new MailExchange($times->phases(), MailStage::Nowhere, 'The program that asks broke off: ' . mb_substr(trim($complaint), 0, 200), true);
        }
        $seconds = static fn(string $name): ?float => is_numeric($answer['phases'][$name] ?? null) ? (float) $answer['phases'][$name] : null;

        return new MailExchange(
            new Phases(name: $times->phases()->name, connect: $seconds('connect'), wait: $seconds('wait'), transfer: $seconds('transfer')),
            MailStage::from(is_string($answer['reached'] ?? null) ? $answer['reached'] : 'nowhere'),
            is_string($answer['fault'] ?? null) ? $answer['fault'] : null,
            late: is_int($answer['late'] ?? null) ? $answer['late'] : 0,
        );
    }
}
