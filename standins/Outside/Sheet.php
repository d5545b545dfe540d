<?php

declare(strict_types=1);

namespace Olivine\Standin\Outside;

use Olivine\Server\Response;

/** The page of a stand-in. */
final class Sheet
{
    private const STYLE = 'body{margin:0;background:#EEF1F4;color:#20262B;font:15px/1.45 system-ui,sans-serif}
        main{max-width:860px;margin:0 auto;padding:24px 16px}h1{font-size:20px}h2{font-size:16px;margin:22px 0 8px}form{margin:0 0 14px}
        ul{list-style:none;padding:0;margin:0;background:#fff;border:1px solid #D5DAE0;border-radius:8px}
        li{border-top:1px solid #E8EBEE;padding:12px 16px}li:first-child{border:0}
        small{color:#59636D}button{font:inherit;padding:6px 12px}button[disabled]{font-weight:600;color:inherit}
        input{font:inherit;padding:6px 8px;min-width:0}pre{white-space:pre-wrap;overflow-wrap:anywhere;font:inherit;margin:4px 0}
        form.row{display:flex;gap:8px;margin-top:8px;flex-wrap:wrap}form.row input[name=text]{flex:1}.said{color:#59636D}';

    public static function of(string $title, Mood $mood, string $body): Response
    {
        $title = self::text($title);

        return new Response(
            "<!doctype html><html lang=\"en\"><meta charset=\"utf-8\"><meta name=\"viewport\" content=\"width=device-width\"><title>{$title}</title><style>"
            . self::STYLE
            . "</style><main><h1>{$title}</h1>{$mood->buttons()}{$body}</main></html>",
        );
    }

    public static function text(mixed $words): string
    {
        return htmlspecialchars(is_scalar($words) ? (string) $words : '');
    }

    /** @param array<string, mixed> $thing */
    public static function when(array $thing): string
    {
        $at = is_int($thing['at'] ?? null) ? $thing['at'] : 0;
        $arrivals = is_int($thing['arrivals'] ?? null) ? $thing['arrivals'] : 1;

        return date('D H:i:s', intdiv($at, 1000)) . ' UTC' . ($arrivals > 1 ? " · arrived {$arrivals}×" : '');
    }

    /**
     * @param array<string, string> $hidden
     * @param string                $visible more of the form
     */
    public static function form(string $action, array $hidden, string $visible): string
    {
        $fields = '';
        foreach ($hidden as $name => $value) {
            $fields .= '<input type="hidden" name="' . self::text($name) . '" value="' . self::text($value) . '">';
        }

        return '<form class="row" method="post" action="' . self::text($action) . "\">{$fields}{$visible}</form>";
    }
}
