<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** The evaluated value of an alert before and after it was raised, as PNG: for mail, where no script draws. */
final readonly class ChartPicture
{
    private const WIDTH = 1120;
    private const HEIGHT = 360;
    private const LEFT = 110;
    private const RIGHT = 24;
    private const TOP = 24;
    private const BOTTOM = 50;
    private const FONT = '/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf';
    private const SPAN_MS = 3_600_000;
    private const STEP_MS = 30_000;

    public function __construct(private Evaluator $evaluator)
    {
    }

    /** @return string|null null where there is nothing to draw */
    public function draw(RaisedBy $by, LabelSet $labels, Instant $raisedAt, Instant $now, \DateTimeZone $zone): ?string
    {
        $to = $now->ms - ($now->ms % self::STEP_MS);
        $from = $to - self::SPAN_MS;
        try {
            $values = $this->evaluator->line(Parser::parse($by->rule->formula), $labels, $from, $to, self::STEP_MS)?->values;
        } catch (FormulaError|TooMuchToRead) {
            // The message goes out without its picture.
            return null;
        }
        $present = array_filter($values ?? [], static fn(?float $value): bool => $value !== null && is_finite($value));
        if ($values === null || $present === []) {
            return null;
        }
        $lines = $by->conditionOf($labels)->lines();
        $low = min([0.0, ...$present, ...$lines]);
        $high = max([...$present, ...$lines]);
        $high += ($high - $low) * 0.08 + 1e-9;

        $image = imagecreatetruecolor(self::WIDTH, self::HEIGHT);
        if ($image === false) {
            return null;
        }
        imageantialias($image, true);
        $color = static fn(int $rgb): int => (int) imagecolorallocate(
            $image,
            ($rgb >> 16) & 0xff,
            ($rgb >> 8) & 0xff,
            $rgb & 0xff,
        );
        imagefill($image, 0, 0, $color(0xffffff));
        $x = static fn(int $at): int => (int) round(
            self::LEFT + (($at - $from) / self::SPAN_MS) * (self::WIDTH - self::LEFT - self::RIGHT),
        );
        $y = static fn(float $value): int => (int) round(
            self::HEIGHT - self::BOTTOM - (($value - $low) / ($high - $low)) * (self::HEIGHT - self::TOP - self::BOTTOM),
        );

        if ($raisedAt->ms < $to) {
            imagefilledrectangle(
                $image,
                max(self::LEFT, $x($raisedAt->ms)),
                self::TOP,
                self::WIDTH - self::RIGHT,
                self::HEIGHT - self::BOTTOM,
                $color(0xf7e1e6),
            );
        }
        foreach (range(0, 4) as $i) {
            $value = $low + (($high - $low) * $i) / 4;
            imageline($image, self::LEFT, $y($value), self::WIDTH - self::RIGHT, $y($value), $color(0xe6e4da));
            $this->write($image, 6, $y($value) + 7, $color(0x6a6c5e), $by->value($value));
        }
        for ($at = $from - ($from % 900_000) + 900_000; $at <= $to; $at += 900_000) {
            $this->write(
                $image,
                $x($at) - 26,
                self::HEIGHT - 16,
                $color(0x6a6c5e),
                (new \DateTimeImmutable('@' . intdiv($at, 1000)))->setTimezone($zone)->format('H:i'),
            );
        }
        imagesetthickness($image, 2);
        foreach (array_slice($lines, 0, 1) as $limit) {
            imagedashedline($image, self::LEFT, $y($limit), self::WIDTH - self::RIGHT, $y($limit), $color(0xa3123d));
            $this->write($image, self::LEFT + 8, $y($limit) - 8, $color(0xa3123d), "limit {$by->value($limit)}");
        }
        imagesetthickness($image, 3);
        $ink = $color(0x23261e);
        foreach ($values as $i => $value) {
            $before = $i > 0 ? $values[$i - 1] : null;
            if ($value !== null && $before !== null && is_finite($value) && is_finite($before)) {
                imageline(
                    $image,
                    $x($from + ($i - 1) * self::STEP_MS),
                    $y($before),
                    $x($from + $i * self::STEP_MS),
                    $y($value),
                    $ink,
                );
            }
        }
        ob_start();
        imagepng($image, null, 6);

        return (string) ob_get_clean();
    }

    private function write(\GdImage $image, int $x, int $y, int $color, string $text): void
    {
        if (is_readable(self::FONT) && function_exists('imagettftext')) {
            imagettftext($image, 13, 0, $x, $y, $color, self::FONT, $text);
        } else {
            imagestring($image, 5, $x, $y - 14, $text, $color);
        }
    }
}
