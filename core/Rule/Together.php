<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Series\LabelSet;

/**
 * One alert for a whole group, raised where enough of its members are past the limit: of nine gates any, three or more, or a
 * third or more.
 *
 * By example, a third or more per site: of 9 gates it takes 3, of 4 it takes 2 (1.33, rounded up).
 */
final readonly class Together
{
    /**
     * @param list<string> $per   labels that make a group; none: all of them are one
     * @param int          $least so many members
     * @param float|null   $share or this share of those that are there, whichever is more
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function __construct(public array $per, public int $least = 1, public ?float $share = null)
    {
        if ($least < 1) {
            throw new BadRule('least', 'must be one or more');
        }
        if ($share !== null && !($share > 0.0 && $share <= 1.0)) {
            throw new BadRule('share', 'must be a share above 0 %, and at most 100 %');
        }
    }

    public function group(LabelSet $labels): LabelSet
    {
        return $this->per === [] ? LabelSet::none() : $labels->only($this->per);
    }

    public function needed(int $members): int
    {
        return max($this->least, $this->share === null ? 1 : (int) ceil($this->share * $members - 1e-9));
    }

    /** `any of them`, `3 or more`, `33 % or more`. */
    public function words(): string
    {
        $many = $this->least > 1 ? "{$this->least} or more" : 'any of them';

        return $this->share === null ? $many : round(100 * $this->share) . ' % or more' . ($this->least > 1 ? ", at least {$this->least}" : '');
    }
}
