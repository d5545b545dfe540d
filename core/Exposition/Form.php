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
        return str_starts_with(strtolower(trim($contentType)), 'application/openmetrics-text')
            ? self::OpenMetrics
            : self::Plain004;
    }

    /** A file says no content type: what only the newer form has tells it, its end first of all. */
    public static function ofText(string $text): self
    {
        $signs =
            '~^# EOF$|^# UNIT |^# TYPE \S+ (?:stateset|info|gaugehistogram|unknown)$|^[^#\n][^\n]* # \{|^# TYPE (\S+) counter\n(?:# [^\n]*\n)*\1_total[ {]~m';

        return preg_match($signs, $text) === 1 ? self::OpenMetrics : self::Plain004;
    }
}
