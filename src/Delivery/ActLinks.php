<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\Settings;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Links in messages that let one person act on one incident without signing in. Only a hash of the token is kept. */
final readonly class ActLinks
{
    private const VALID_DAYS = 3;

    public function __construct(private Database $database, private Settings $settings)
    {
    }

    public function make(int $incidentId, int $personId, Instant $now): string
    {
        $token = rtrim(strtr(base64_encode(random_bytes(24)), '+/', '-_'), '=');
        $this->database->insertNew(
            'act_token',
            ['token_hash', 'incident_id', 'person_id', 'ends_at'],
            [[hash('sha256', $token), $incidentId, $personId, $now->plus(Duration::ofDays(self::VALID_DAYS))->ms]],
        );

        return "{$this->settings->publicUrl()}/act/{$token}";
    }

    /** @return array{int, int}|null incident and person; null where the link is unknown or has ended, or the person may not answer incidents any more */
    public function open(string $token, Instant $now): ?array
    {
        $row = $this->database->connection->fetchNumeric(
            "SELECT a.incident_id, a.person_id FROM act_token a JOIN person p ON p.id = a.person_id
             WHERE a.token_hash = ? AND a.ends_at > ? AND p.barred_at IS NULL AND p.removed_at IS NULL AND p.role IN ('engineer', 'administrator')",
            [hash('sha256', $token), $now->ms],
        );

        return $row === false ? null : [Scalar::int($row[0]), Scalar::int($row[1])];
    }
}
