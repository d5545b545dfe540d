<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Formula\GivenTime;
use Olivine\App\Formula\WrongCall;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;

#[AsCommand('olivine:try', 'Prints what would become of a made-up alert by files alone')]
final class TryCommand extends OfflineCommand
{
    private const DAYS = 7;

    protected function configure(): void
    {
        parent::configure();
        $this->addOption('labels', null, InputOption::VALUE_REQUIRED, "Such as 'service=boarding-gate broker=broker-north'", '')
            ->addOption('severity', null, InputOption::VALUE_REQUIRED, 'critical, major, minor or warning', 'critical')
            ->addOption('at', null, InputOption::VALUE_REQUIRED, 'When it is raised: seconds since 1970, or 2026-11-23T03:12:00Z');
    }

    protected function lines(InputInterface $input, OfflinePlan $plan, array $files): array
    {
        $severity = Severity::tryFrom(Scalar::text($input->getOption('severity')))
            ?? throw new WrongCall('--severity must be critical, major, minor or warning');
        $at = GivenTime::instant('at', $input);
        $labels = LabelSet::of(['severity' => $severity->value] + self::labels(Scalar::text($input->getOption('labels'))));
        $replay = new CourseReplay($plan->configuration);
        $replay->happens(new AlertRaised('tried', $labels, $severity, 'An alert', "raised as {$severity->value}"), $at);
        $replay->passTo($at->plus(Duration::ofDays(self::DAYS)));

        return CourseLines::of($replay, $plan);
    }

    /**
     * @return array<string, string>
     *
     * @throws WrongCall
     */
    private static function labels(string $written): array
    {
        $labels = [];
        foreach (preg_split('~\s+~', trim($written), -1, PREG_SPLIT_NO_EMPTY) ?: [] as $one) {
            if (preg_match('~^([a-zA-Z_]\w*)=(?:"([^"]*)"|([^"]*))$~D', $one, $part) !== 1) {
                throw new WrongCall("--labels must be name=value with blanks between; this is {$one}");
            }
            $labels[$part[1]] = $part[3] ?? $part[2] ?? '';
        }

        return $labels;
    }
}
