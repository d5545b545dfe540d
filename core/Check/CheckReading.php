<?php

declare(strict_types=1);

namespace Olivine\Core\Check;

use Olivine\Core\Check\Tls\Certificate;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Series\LabelSet;

/** One number that a check brought. */
final readonly class CheckReading
{
    /** @var array<string, string> the metrics that every kind of check may bring: name → what it says */
    public const METRICS = [
        'check_runs' => '1 where the service runs, also where something it did failed; 0 where it is down; none where nobody knows',
        'check_partly' => '1 where the service runs but something it did failed',
        'check_slow' => '1 where it answered, but took longer than it was given',
        'check_duration_seconds' => 'From the first word to the last, over all steps',
        'check_phase_seconds' => 'What of it was spent on finding the name, connecting, agreeing on TLS, waiting and transferring',
        'check_status_code' => 'The HTTP status that a step was answered with',
        'check_answer_bytes' => 'How long the answer of a step was, unpacked',
        'check_records' => 'How many records a name server answered with',
        'check_zone_serial' => 'The serial of the zone, as a name server has it',
        'check_loss_ratio' => 'The share of echoes that never came back',
        'check_latency_seconds' => 'How long an echo took there and back, on average',
        'check_jitter_seconds' => 'How much one echo differs from the one before, on average',
        'check_voice_score' => 'How a voice call would sound over that way, from 1 to 4.5 (ITU-T G.107)',
        'check_mail_seconds' => 'From when a letter was taken to when it lay in the mailbox',
        'check_mail_late' => 'How many letters of former rounds were found only now',
        'check_replication_follows' => '1 where a partner follows its source, 0 where it does not',
        'check_replication_seconds' => 'How far a partner is behind its source, in time',
        'check_replication_behind' => 'How far a partner is behind its source, in transactions (MariaDB) or bytes of the log (PostgreSQL)',
        'certificate_end_timestamp_seconds' => Certificate::END_HELP,
        'check_certificate_left_seconds' => 'How long the certificate of the server is still valid; negative where it has ended',
    ];

    /** @param array<string, string> $labels */
    public function __construct(
        public string $metric,
        public float $value,
        public array $labels = [],
        public MetricType $type = MetricType::Gauge,
        public string $unit = '',
        public string $help = '',
    ) {
    }

    /**
     * What each kind of check brings; where nobody knows how the service stands, that is said by nothing.
     *
     * @return list<self>
     */
    public static function common(Verdict $verdict, Phases $phases, bool $isSlow): array
    {
        $readings = $verdict === Verdict::Unknown ? [] : [
            new self('check_runs', $verdict === Verdict::Down ? 0.0 : 1.0),
            new self('check_partly', $verdict === Verdict::Partly ? 1.0 : 0.0),
            new self('check_duration_seconds', $phases->total(), unit: 'seconds'),
            new self('check_slow', $isSlow ? 1.0 : 0.0),
        ];

        return [...$readings, ...self::ofPhases($phases, [])];
    }

    /**
     * @param array<string, string> $labels
     *
     * @return list<self>
     */
    public static function ofPhases(Phases $phases, array $labels): array
    {
        $readings = [];
        foreach ($phases->named() as $phase => $seconds) {
            $readings[] = new self('check_phase_seconds', $seconds, [...$labels, 'phase' => $phase], unit: 'seconds');
        }

        return $readings;
    }

    public function labelSet(): LabelSet
    {
        return LabelSet::of($this->labels);
    }

    public function help(): string
    {
        return $this->help !== '' ? $this->help : self::METRICS[$this->metric] ?? '';
    }
}
