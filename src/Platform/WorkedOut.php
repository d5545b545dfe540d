<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Time\Instant;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\AutowireIterator;

/** Slow answers, renewed by the keeper; while it is away, whoever asks for one that is too old works it out. */
final readonly class WorkedOut
{
    private const TOO_OLD = 5;

    /** @param iterable<SlowAnswer> $answers */
    public function __construct(
        private Database $database,
        private LoggerInterface $logger,
        #[AutowireIterator(SlowAnswer::class)]
        private iterable $answers,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @return string the answer as JSON */
    public function json(string $name): string
    {
        $now = $this->clock->now();
        $kept = $this->database->connection->fetchNumeric('SELECT at, answer FROM worked_out WHERE name = ?', [$name]);
        $answer = $this->named($name);
        if ($kept !== false && Scalar::int($kept[0]) > $now->ms - self::TOO_OLD * $answer->renewEveryMs()) {
            return Scalar::text($kept[1]);
        }

        return $this->renew($answer, $now);
    }

    /** @return array<mixed> */
    public function of(string $name): array
    {
        return (array) json_decode($this->json($name), true, 32, JSON_THROW_ON_ERROR);
    }

    /** Works out anew whatever is due. */
    public function renewDue(Instant $now): void
    {
        $at = $this->database->connection->fetchAllKeyValue('SELECT name, at FROM worked_out');
        foreach ($this->answers as $answer) {
            if (Scalar::int($at[$answer->name()] ?? 0) <= $now->ms - $answer->renewEveryMs()) {
                $this->renewOrKeep($answer, $now);
            }
        }
    }

    /** One answer that cannot be worked out does not hold up the others; the one from before is kept until its next turn. */
    private function renewOrKeep(SlowAnswer $answer, Instant $now): void
    {
        try {
            $this->renew($answer, $now);
        } catch (\Throwable $error) {
            if (Database::mayPass($error)) {
                throw $error;
            }
            $this->logger->error('{name} could not be worked out: {exception}', [
                'name' => $answer->name(),
                'exception' => $error,
            ]);
            $this->database->connection->executeStatement('UPDATE worked_out SET at = ? WHERE name = ?', [
                $now->ms,
                $answer->name(),
            ]);
        }
    }

    private function renew(SlowAnswer $answer, Instant $now): string
    {
        $json = json_encode($answer->work($now), JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION);
        $this->database->upsert('worked_out', ['name', 'at', 'answer'], [[$answer->name(), $now->ms, $json]]);

        return $json;
    }

    private function named(string $name): SlowAnswer
    {
        foreach ($this->answers as $answer) {
            if ($answer->name() === $name) {
                return $answer;
            }
        }
        throw new \LogicException("There is no slow answer {$name}");
    }
}
