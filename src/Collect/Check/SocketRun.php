<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\CheckStep;
use Olivine\App\Collect\Definition\AskFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Verdict;

/** One asking of a port, a certificate or name servers. */
final class SocketRun extends CheckRun
{
    private const KEPT_BYTES = 65_536;
    private const SHOWN_BYTES = 8_192;
    private ?Judgement $judgement = null;
    /** @var list<CheckStep> */
    private array $steps = [];
    private string $answer = '';

    public function __construct(Target $target, ?int $dueMs, int $place, public readonly AskFields $asks)
    {
        parent::__construct($target, $dueMs, $place);
    }

    public function isOver(): bool
    {
        return $this->judgement !== null;
    }

    /** @param string $answer what came back, as text */
    public function ends(Judgement $judgement, string $answer, CheckStep ...$steps): void
    {
        $this->judgement = $judgement;
        $this->steps = array_values($steps);
        $this->answer = mb_scrub(mb_strcut($answer, 0, self::KEPT_BYTES));
        $this->endedAt = microtime(true);
    }

    /** @param string $head what is shown of the answer; of a long one its beginning */
    public static function step(string $name, string $sent, string $ip, Phases $phases, string $head, int $bytes, ?string $fault): CheckStep
    {
        return new CheckStep($name, mb_scrub($sent), $ip, [], $phases, null, mb_scrub(mb_strcut($head, 0, self::SHOWN_BYTES)), $bytes, (string) $fault);
    }

    public function judged(): Judgement
    {
        return $this->judgement ?? new Judgement(Verdict::Unknown, 'It was not asked', []);
    }

    /** What those that answered took; the time of a program that asks beside is not theirs. */
    public function seconds(): float
    {
        $isAnswered = in_array($this->judged()->verdict, [Verdict::Runs, Verdict::Partly], true);
        $took = array_find($this->judged()->readings, static fn(CheckReading $one): bool => $one->metric === 'check_duration_seconds');

        return $isAnswered && $took !== null ? $took->value : parent::seconds();
    }

    public function steps(): array
    {
        return $this->steps;
    }

    public function lastAnswer(): string
    {
        return $this->answer;
    }
}
