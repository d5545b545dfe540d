<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\SetAside;
use Psr\Log\LoggerInterface;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;

/**
 * Turns transitions into incidents, incidents into planned messages, and sends those. A message is claimed, the
 * claim committed, then it is sent, then marked: whoever dies in between sends it again under the same Message-ID.
 */
final class Dispatcher
{
    /** A mail server may be away for a night; whoever is to be told wants to be told then too. */
    private const GIVE_UP_AFTER_MS = 86_400_000;
    private const MOST_DOUBLINGS = 10;
    /** A rule that could not be evaluated for so long is told to whoever is on call. */
    private const TOLD_AFTER_MS = 300_000;
    private const PROBLEMS_EVERY_MS = 2_000;
    private const FIRST_PAUSE_MS = 2_000;
    private const LONGEST_PAUSE_MS = 300_000;

    private bool $tookOver = false;
    private int $problemsAtMs = 0;
    private float $sent = 0.0;
    private float $failed = 0.0;

    public function __construct(
        private readonly Database $database,
        private readonly EntityManagerInterface $entities,
        private readonly IncidentBook $book,
        private readonly DeliveryPlan $plan,
        private readonly IncidentMail $mail,
        private readonly Trail $trail,
        private readonly MailTransport $transport,
        private readonly SetAside $aside,
        private readonly LoggerInterface $logger,
    ) {
    }

    public function round(): int
    {
        try {
            return $this->work();
        } catch (\Throwable $error) {
            // What was claimed when this broke off is claimed by nobody now.
            $this->tookOver = false;
            throw $error;
        }
    }

    /** Another dispatcher is at work; on the way back its claims are looked at anew. */
    public function standBy(): void
    {
        $this->tookOver = false;
    }

    private function work(): int
    {
        if (!$this->tookOver) {
            // One dispatcher holds the lease, so what is still claimed was claimed by one that is gone.
            $this->database->connection->executeStatement("UPDATE delivery SET status = 'planned' WHERE status = 'sending'");
            $this->tookOver = true;
        }
        $taken = $this->book->takeTransitions(TakeMode::Live);
        $now = Clock::nowMs();
        if ($now >= $this->problemsAtMs) {
            $this->book->takeProblems($now, self::TOLD_AFTER_MS);
            $this->problemsAtMs = $now + self::PROBLEMS_EVERY_MS;
        }
        $this->plan->climb($now);
        $due = $this->database->connection->fetchAllAssociative(
            "SELECT * FROM delivery WHERE status = 'planned' AND next_at <= ? ORDER BY due_at LIMIT 20",
            [$now],
        );
        foreach ($due as $row) {
            $this->send($row);
        }
        if ($due === []) {
            $this->transport->rest();
        }

        return $taken > 0 || $due !== [] ? 0 : 150;
    }

    /** @return array<string, float> */
    public function figures(): array
    {
        return [
            'olivine_messages_sent_total' => $this->sent,
            'olivine_messages_failed_total' => $this->failed,
            'olivine_messages_waiting' => (float) $this->database->connection->fetchOne(
                "SELECT COUNT(*) FROM delivery WHERE status IN ('planned', 'sending')",
            ),
        ];
    }

    /** @param array<string, mixed> $row */
    private function send(array $row): void
    {
        $id = (int) $row['id'];
        $attempt = (int) $row['attempts'] + 1;
        $connection = $this->database->connection;
        if (
            $connection->executeStatement(
                "UPDATE delivery SET status = 'sending', attempts = ? WHERE id = ? AND status = 'planned'",
                [$attempt, $id],
            ) !== 1
        ) {
            return;
        }
        $this->entities->clear();
        $incident = $this->entities->find(Incident::class, (int) $row['incident_id']);
        $person = $this->entities->find(Person::class, (int) $row['person_id']);
        if ($incident === null || $person === null) {
            $connection->executeStatement(
                "UPDATE delivery SET status = 'failed', answer = 'the person or the incident is gone' WHERE id = ?",
                [$id],
            );

            return;
        }
        $label = self::label((string) $row['kind'], (int) $row['round']);
        if (!$person->mayAct()) {
            $this->giveUp($id, $incident->id(), "{$label}: {$person->name} was not told: barred or removed meanwhile");

            return;
        }
        $began = Clock::nowMs();
        try {
            $sent = $this->transport->send(
                $this->mail->write($incident, (string) $row['kind'], $person, (string) $row['message_key'], $began),
            );
        } catch (TransportExceptionInterface $error) {
            $this->postpone($row, $attempt, $label, $person, $error->getMessage());

            return;
        } catch (\Throwable $error) {
            if (Database::mayPass($error) || $error instanceof LeaseLost) {
                throw $error;
            }
            $this->logger->error('The e-mail {key} cannot be sent: {exception}', [
                'key' => $row['message_key'],
                'exception' => $error,
            ]);
            $this->database->recover();
            $this->aside->put('dispatcher', "e-mail to {$person->name} <{$person->email}>", $error->getMessage(), $began);
            $this->giveUp(
                $id,
                $incident->id(),
                "{$label}: the e-mail to {$person->name} <{$person->email}> cannot be sent: {$error->getMessage()}",
            );

            return;
        }
        $this->aside->over('dispatcher', "e-mail to {$person->name} <{$person->email}>");
        $now = Clock::nowMs();
        $answer = MailTransport::answer($sent?->getDebug() ?? '');
        $this->database->transaction(function () use (
            $connection,
            $id,
            $now,
            $began,
            $answer,
            $incident,
            $label,
            $person,
            $row,
        ): void {
            $connection->executeStatement("UPDATE delivery SET status = 'sent', sent_at = ?, answer = ? WHERE id = ?", [
                $now,
                $answer,
                $id,
            ]);
            $this->trail->add(
                $incident->id(),
                $now,
                TrailKind::Told,
                sprintf('%s: e-mail to %s, the mail server took it in %d ms', $label, $person->name, $now - $began),
                'sent ' . $row['message_key'],
            );
        });
        ++$this->sent;
    }

    /** @param array<string, mixed> $row */
    private function postpone(array $row, int $attempt, string $label, Person $person, string $reason): void
    {
        $reason = mb_substr(mb_scrub($reason), 0, 300);
        $now = Clock::nowMs();
        $pause = min(self::LONGEST_PAUSE_MS, self::FIRST_PAUSE_MS * 2 ** min(self::MOST_DOUBLINGS, $attempt - 1));
        $words = sprintf('%s: e-mail to %s failed (attempt %d): %s', $label, $person->name, $attempt, $reason);
        if ($now - (int) $row['due_at'] > self::GIVE_UP_AFTER_MS) {
            $this->giveUp((int) $row['id'], (int) $row['incident_id'], "{$words}; given up after a day");

            return;
        }
        $this->database->transaction(function (Connection $connection) use ($row, $reason, $now, $pause, $words): void {
            $connection->executeStatement("UPDATE delivery SET status = 'planned', next_at = ?, answer = ? WHERE id = ?", [
                $now + $pause,
                $reason,
                $row['id'],
            ]);
            $this->trail->add((int) $row['incident_id'], $now, TrailKind::Failed, $words);
        });
        ++$this->failed;
    }

    private function giveUp(int $id, int $incidentId, string $words): void
    {
        $this->database->transaction(function (Connection $connection) use ($id, $incidentId, $words): void {
            $connection->executeStatement("UPDATE delivery SET status = 'failed', answer = ? WHERE id = ?", [
                mb_substr(mb_scrub($words), 0, 500),
                $id,
            ]);
            $this->trail->add($incidentId, Clock::nowMs(), TrailKind::Failed, mb_scrub($words), "given up {$id}");
        });
        ++$this->failed;
    }

    private static function label(string $kind, int $round): string
    {
        return match ($kind) {
            'raised' => "rung {$round}",
            'worse' => 'grown worse',
            'lost' => 'lost from sight',
            default => 'recovery',
        };
    }
}
