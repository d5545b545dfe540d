<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\Core\Check\Expect\ExpectationReader;

/** One request of a check, and what its answer must be like. */
final readonly class HttpStepFields
{
    /**
     * @param string             $name            as it is called on the page; needed where there are several
     * @param list<HeaderFields> $headers
     * @param string             $expects         such as `"Book now" and json /queue/depth < 100`; "": a status of success
     * @param float              $patienceSeconds after which it is given up
     * @param list<TakenFields>  $takes
     * @param list<ValueFields>  $values
     */
    public function __construct(
        #[Line(2_000, 1)]
        public string $url,
        #[Line(60)]
        public string $name = '',
        public HttpMethod $method = HttpMethod::Get,
        #[ListOf(HeaderFields::class, 0, 30)]
        public array $headers = [],
        #[Text(100_000)]
        public string $body = '',
        public bool $follows = true,
        #[Text(ExpectationReader::LONGEST)]
        public string $expects = '',
        #[Number(0.1, 60)]
        public float $patienceSeconds = 10.0,
        #[ListOf(TakenFields::class, 0, 20)]
        public array $takes = [],
        #[ListOf(ValueFields::class, 0, 50)]
        public array $values = [],
    ) {
    }
}
