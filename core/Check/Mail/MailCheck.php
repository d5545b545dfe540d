<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Mail;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;

/**
 * A letter on its way: down where no mail server answers; partly where it answers and refuses the letter, or the letter does not lie in
 * the mailbox in time. A letter taken after 0.2 s and seen 7 s later has the phases wait 0.2 and transfer 7.
 */
final readonly class MailCheck
{
    public function __construct(public int $patienceMs, public int $seenWithinMs, public ?int $slowMs = null)
    {
    }

    public function judge(MailExchange $exchange): Judgement
    {
        $seconds = $exchange->phases->total();
        $verdict = match (true) {
            $exchange->isOurs => Verdict::Unknown,
            $exchange->reached === MailStage::Nowhere => Verdict::Down,
            $exchange->reached === MailStage::Seen => Verdict::Runs,
            default => Verdict::Partly,
        };
        $isSlow = $verdict === Verdict::Runs && $this->slowMs !== null && $seconds * 1000 > $this->slowMs;
        $words = match (true) {
            $exchange->reached === MailStage::Seen => $isSlow ? Judgement::slow($seconds, (int) $this->slowMs) : '',
            $exchange->fault !== null && $exchange->reached === MailStage::Accepted => 'The letter was taken, and then: ' . lcfirst($exchange->fault),
            $exchange->fault !== null => $exchange->fault,
            $exchange->reached === MailStage::Accepted => sprintf('The letter was taken, but did not arrive within %s s', $this->seenWithinMs / 1000),
            default => 'The letter was not taken',
        };
        if ($exchange->late > 0 && $exchange->reached !== MailStage::Nowhere) {
            $late = $exchange->late === 1 ? 'one of a former round came late' : "{$exchange->late} of former rounds came late";
            $words = $words === '' ? ucfirst($late) : "{$words}; {$late}";
        }
        $readings = CheckReading::common($verdict, $exchange->phases, $isSlow);
        if ($exchange->reached === MailStage::Seen && $exchange->phases->transfer !== null) {
            $readings[] = new CheckReading('check_mail_seconds', $exchange->phases->transfer, unit: 'seconds');
        }
        if ($exchange->reached === MailStage::Accepted || $exchange->reached === MailStage::Seen) {
            $readings[] = new CheckReading('check_mail_late', (float) $exchange->late);
        }

        return new Judgement($verdict, $words, $readings);
    }
}
