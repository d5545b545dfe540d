<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Check\Expect\ExpectationReader;

/** A port that answers. */
final readonly class TcpFields implements AskFields
{
    public string $kind;

    /**
     * @param string            $send    what is sent once connected; `\r\n` in it stands for the end of a line
     * @param string            $expects what must come back, such as `"220 "`; "": a connection is enough
     * @param list<ValueFields> $values  numbers to keep of it, such as `text used_memory:*`
     */
    public function __construct(
        #[Line(253, 1)]
        public string $host,
        #[Whole(1, 65_535)]
        public int $port,
        #[Text(4_000)]
        public string $send = '',
        #[Text(ExpectationReader::LONGEST)]
        public string $expects = '',
        #[Number(0.1, 60)]
        public float $patienceSeconds = 5.0,
        #[ListOf(ValueFields::class, 0, 50)]
        public array $values = [],
    ) {
        $this->kind = SourceKind::Tcp->value;
    }

    public function kind(): SourceKind
    {
        return SourceKind::Tcp;
    }

    public function address(): string
    {
        return "tcp://{$this->host}:{$this->port}";
    }
}
