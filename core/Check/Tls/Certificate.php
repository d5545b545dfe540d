<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Tls;

/** What matters of a certificate (RFC 5280). */
final readonly class Certificate
{
    /** The metric by which each of them is known, whoever shows it, and what it says. */
    public const END = 'certificate_end_timestamp_seconds';
    public const END_HELP = 'When a certificate ends, in seconds since 1970';
    private const MOST_NAMES_TOLD = 3;
    private const LEAST_BITS = ['RSA' => 2_048, 'DSA' => 2_048, 'EC' => 224];

    /**
     * @param list<string> $names   the DNS names and addresses it is for
     * @param string       $keyKind RSA, EC, DSA, or another word
     * @param string       $signed  the signature's name, such as RSA-SHA256
     */
    public function __construct(
        public string $subject,
        public string $issuer,
        public array $names,
        public int $fromMs,
        public int $untilMs,
        public string $keyKind,
        public int $keyBits,
        public string $signed,
    ) {
    }

    /**
     * By which it is told from the others of the same server or file, also after it was renewed.
     *
     * @return array<string, string>
     */
    public function labels(): array
    {
        $more = count($this->names) - self::MOST_NAMES_TOLD;
        $for = implode(', ', array_slice($this->names, 0, self::MOST_NAMES_TOLD)) . ($more > 0 ? " and {$more} more" : '');

        return ['subject' => $this->subject, 'issuer' => $this->issuer, 'for' => mb_substr($for, 0, 200)];
    }

    public function isSelfIssued(): bool
    {
        return $this->subject === $this->issuer;
    }

    /**
     * Whether it is for this host (RFC 6125): a star stands for one whole label at the left, and for no more.
     *
     * By example, `*.saltmarsh.example` is for `shop.saltmarsh.example`, and neither for `saltmarsh.example` nor for
     * `a.shop.saltmarsh.example`.
     */
    public function isFor(string $host): bool
    {
        $host = strtolower(rtrim(trim($host, '[]'), '.'));

        return array_any($this->names, static function (string $name) use ($host): bool {
            $name = strtolower(rtrim($name, '.'));
            if (!str_starts_with($name, '*.')) {
                return $name === $host;
            }
            $dot = strpos($host, '.');

            return $dot !== false && $dot > 0 && substr($host, $dot) === substr($name, 1) && filter_var($host, FILTER_VALIDATE_IP) === false;
        });
    }

    /** @return string|null what is weak about it; a root that everybody has is not judged by its signature */
    public function weakness(): ?string
    {
        $least = self::LEAST_BITS[$this->keyKind] ?? 0;

        return match (true) {
            $this->keyBits < $least => "its {$this->keyKind} key has {$this->keyBits} bits, fewer than {$least}",
            !$this->isSelfIssued() && preg_match('~MD5|SHA1(?!\d)~i', $this->signed) === 1 => "it is signed with {$this->signed}, which can be forged",
            default => null,
        };
    }
}
