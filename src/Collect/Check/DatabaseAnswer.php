<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\Core\Check\Phases;

/** What a database said to one query. */
final readonly class DatabaseAnswer
{
    /**
     * @param list<array<string, string|float|bool|null>> $rows        column → value
     * @param string|null                                 $fault       why there are none, as a sentence without a full stop
     * @param bool                                        $isOurs      whether that is our own fault
     * @param bool                                        $isConnected whether the server let us in
     */
    public function __construct(
        public Phases $phases,
        public array $rows,
        public ?string $fault = null,
        public bool $isOurs = false,
        public bool $isConnected = true,
    ) {
    }

    public static function failed(SocketTimes $times, string $fault): self
    {
        return new self($times->phases(), [], $fault, $times->isOurs, false);
    }
}
