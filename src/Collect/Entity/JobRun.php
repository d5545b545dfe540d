<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Collect\Repository\JobRunRepository;
use Olivine\Core\Job\JobRun as Run;
use Olivine\Core\Job\RunOutcome;
use Olivine\Core\Time\Instant;

/** One run of a job, as it reported it. */
#[ORM\Entity(repositoryClass: JobRunRepository::class)]
#[ORM\Table(name: 'job_run')]
#[ORM\UniqueConstraint(name: 'job_run_key', columns: ['target_id', 'run_key'])]
#[ORM\Index(name: 'job_run_began', columns: ['target_id', 'began_at'])]
#[ORM\Index(name: 'job_run_at', columns: ['began_at'])]
class JobRun
{
    public const KEY_LENGTH = 80;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: 'bigint')]
    public int $id;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $endedAt = null;

    #[ORM\Column(length: 10, nullable: true, enumType: RunOutcome::class)]
    public ?RunOutcome $outcome = null;

    #[ORM\Column(nullable: true)]
    public ?int $exitCode = null;

    /** @var resource|string|null the end of what it printed, deflated */
    #[ORM\Column(type: 'blob', nullable: true)]
    public mixed $output = null;

    /** @param string|null $runKey by which its end is told to be its own, where it has one */
    public function __construct(
        #[ORM\Column]
        public int $targetId,
        #[ORM\Column(length: self::KEY_LENGTH, nullable: true)]
        public ?string $runKey,
        #[ORM\Column(type: 'instant')]
        public Instant $beganAt,
    ) {
    }

    public function end(Instant $at, RunOutcome $outcome, ?int $exitCode, string $output): void
    {
        $this->endedAt = $at->later($this->beganAt);
        $this->outcome = $outcome;
        $this->exitCode = $exitCode;
        $this->output = $output === '' ? null : (string) gzdeflate($output);
    }

    public function core(): Run
    {
        return new Run($this->id, $this->beganAt, $this->endedAt, $this->outcome, $this->exitCode);
    }
}
