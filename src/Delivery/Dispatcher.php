<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;
use Symfony\Component\Mailer\Transport\Smtp\SmtpTransport;
use Symfony\Component\Mailer\Transport\TransportInterface;

/**
 * Turns transitions into incidents, incidents into planned messages, and sends those. A message is claimed, the
 * claim committed, then it is sent, then marked: whoever dies in between sends it again under the same Message-ID.
 */
final class Dispatcher
{
    private const MOST_ATTEMPTS = 12;
    private const FIRST_PAUSE_MS = 2_000;
    private const LONGEST_PAUSE_MS = 300_000;

    private bool $tookOver = false;
    private float $sent = 0.0;
    private float $failed = 0.0;

    public function __construct(
        private readonly Database $database,
        private readonly EntityManagerInterface $entities,
        private readonly IncidentBook $book,
        private readonly DeliveryPlan $plan,
        private readonly IncidentMail $mail,
        private readonly Trail $trail,
        private readonly TransportInterface $transport,
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
        $this->plan->climb($now);
        $due = $this->database->connection->fetchAllAssociative("SELECT * FROM delivery WHERE status = 'planned' AND next_at <= ? ORDER BY due_at LIMIT 20", [$now]);
        foreach ($due as $row) {
            $this->send($row);
        }
        if ($due === [] && $this->transport instanceof SmtpTransport) {
            $this->transport->stop();
        }

        return $taken > 0 || $due !== [] ? 0 : 150;
    }

    /** @return array<string, float> */
    public function figures(): array
    {
        return [
            'olivine_messages_sent_total' => $this->sent,
            'olivine_messages_failed_total' => $this->failed,
            'olivine_messages_waiting' => (float) $this->database->connection->fetchOne("SELECT COUNT(*) FROM delivery WHERE status IN ('planned', 'sending')"),
        ];
    }

    /** @param array<string, mixed> $row */
    private function send(array $row): void
    {
        $id = (int) $row['id'];
        $attempt = (int) $row['attempts'] + 1;
        $connection = $this->database->connection;
        if ($connection->executeStatement("UPDATE delivery SET status = 'sending', attempts = ? WHERE id = ? AND status = 'planned'", [$attempt, $id]) !== 1) {
            return;
        }
        $this->entities->clear();
        $incident = $this->entities->find(Incident::class, (int) $row['incident_id']);
        $person = $this->entities->find(Person::class, (int) $row['person_id']);
        if ($incident === null || $person === null) {
            $connection->executeStatement("UPDATE delivery SET status = 'failed', answer = 'the person or the incident is gone' WHERE id = ?", [$id]);

            return;
        }
        $label = self::label((string) $row['kind'], (int) $row['round']);
        $began = Clock::nowMs();
        try {
            $sent = $this->transport->send($this->mail->write($incident, (string) $row['kind'], $person, (string) $row['message_key'], $began));
        } catch (TransportExceptionInterface $error) {
            $this->postpone($id, $incident->id(), $attempt, $label, $person, $error->getMessage());

            return;
        }
        $now = Clock::nowMs();
        $answer = self::answer($sent?->getDebug() ?? '');
        $this->database->transaction(function () use ($connection, $id, $now, $began, $answer, $incident, $label, $person, $row): void {
            $connection->executeStatement("UPDATE delivery SET status = 'sent', sent_at = ?, answer = ? WHERE id = ?", [$now, $answer, $id]);
            $this->trail->add($incident->id(), $now, TrailKind::Told, sprintf('%s: e-mail to %s, the mail server took it in %d ms', $label, $person->name, $now - $began), 'sent ' . $row['message_key']);
        });
        ++$this->sent;
    }

    private function postpone(int $id, int $incidentId, int $attempt, string $label, Person $person, string $reason): void
    {
        $reason = mb_substr(mb_scrub($reason), 0, 300);
        $now = Clock::nowMs();
        $pause = min(self::LONGEST_PAUSE_MS, self::FIRST_PAUSE_MS * 2 ** ($attempt - 1));
        $final = $attempt >= self::MOST_ATTEMPTS;
        $this->database->transaction(function () use ($id, $incidentId, $attempt, $label, $person, $reason, $now, $pause, $final): void {
            $this->database->connection->executeStatement('UPDATE delivery SET status = ?, next_at = ?, answer = ? WHERE id = ?', [$final ? 'failed' : 'planned', $now + $pause, $reason, $id]);
            $this->trail->add($incidentId, $now, TrailKind::Failed, sprintf('%s: e-mail to %s failed (attempt %d): %s%s', $label, $person->name, $attempt, $reason, $final ? '; given up' : ''));
        });
        ++$this->failed;
    }

    private static function label(string $kind, int $round): string
    {
        return match ($kind) {
            'raised' => "rung {$round}",
            'worse' => 'grown worse',
            default => 'recovery',
        };
    }

    /** The server's last line, from the transcript. */
    private static function answer(string $transcript): string
    {
        preg_match_all('~^.*< (250 .*)$~m', $transcript, $lines);

        return mb_substr(trim((string) end($lines[1])), 0, 500);
    }
}
