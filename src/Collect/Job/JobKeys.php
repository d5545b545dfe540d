<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\Settings;

/** The address at which a job reports: whoever knows it may report of that job, and nothing else. */
final readonly class JobKeys
{
    private const BYTES = 18;

    public function __construct(private Connection $connection, private Credentials $seals, private Settings $settings)
    {
    }

    /** A new one; the one it had is nobody's from now on. */
    public function renew(Target $job): void
    {
        $key = rtrim(strtr(base64_encode(random_bytes(self::BYTES)), '+/', '-_'), '=');
        $job->secrets = $this->seals->sealText($key);
        $this->connection->executeStatement('DELETE FROM job_key WHERE target_id = ?', [$job->id()]);
        $this->connection->insert('job_key', ['digest' => self::digest($key), 'target_id' => $job->id()]);
    }

    /** @return string "" where it was sealed under another secret */
    public function address(Target $job): string
    {
        $key = $job->secrets === null ? '' : $this->seals->openText($job->secrets);

        return $key === '' ? '' : "{$this->settings->publicUrl()}/in/job/{$key}";
    }

    /** @return int|null whose it is */
    public function whose(#[\SensitiveParameter] string $key): ?int
    {
        $target = $this->connection->fetchOne('SELECT target_id FROM job_key WHERE digest = ?', [self::digest($key)]);

        return is_numeric($target) ? Scalar::int($target) : null;
    }

    private static function digest(#[\SensitiveParameter] string $key): string
    {
        return hash('sha256', $key);
    }
}
