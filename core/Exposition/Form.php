<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/** The two texts that targets speak. */
enum Form: string
{
    case OpenMetrics = 'openmetrics';
    case Plain004 = 'plain-0.0.4';

    /** What a scrape asks for: the newer form first, the older as fallback, anything as a last resort. */
    public const ACCEPT = 'application/openmetrics-text;version=1.0.0,text/plain;version=0.0.4;q=0.5,*/*;q=0.1';

    public static function ofContentType(string $contentType): self
    {
        return str_starts_with(strtolower(trim($contentType)), 'application/openmetrics-text') ? self::OpenMetrics : self::Plain004;
    }
}
