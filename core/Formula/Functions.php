<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** What each function is for, for help, autocompletion and error messages. */
final class Functions
{
    /** @var array<string, array{list<string>, string, string}> name → ways to write it, what it gives, an example */
    public const ALL = [
        'mean' => [
            ['mean(x, 5m)', 'mean(x) per label'],
            'Average over a window, or across series',
            'mean(system_cpu_utilization_ratio, 5m)',
        ],
        'min' => [
            ['min(x, 5m)', 'min(x) per label'],
            'Lowest over a window, or across series',
            'min(system_memory_usage_bytes, 1h)',
        ],
        'max' => [
            ['max(x, 5m)', 'max(x) per label'],
            'Highest over a window, or across series',
            'max(messaging_queue_depth) per service',
        ],
        'sum' => [
            ['sum(x, 5m)', 'sum(x) per label'],
            'Sum over a window, or across series',
            'sum(rate(http_client_requests_total, 1m)) per host',
        ],
        'count' => [
            ['count(x, 5m)', 'count(x) per label'],
            'How many readings in a window, or how many series',
            'count(messaging_queue_depth) per service',
        ],
        'median' => [
            ['median(x, 5m)', 'median(x) per label'],
            'Middle value over a window, or across series',
            'median(system_cpu_utilization_ratio, 1h)',
        ],
        'stddev' => [
            ['stddev(x, 5m)', 'stddev(x) per label'],
            'Standard deviation of the population',
            'stddev(messaging_queue_depth, 1h)',
        ],
        'quantile' => [
            ['quantile(0.95, x, 5m)', 'quantile(0.95, x) per label'],
            'Value that this share of readings, or of series, is at or under',
            'quantile(0.95, messaging_queue_depth, 1h)',
        ],
        'first' => [['first(x, 5m)'], 'Oldest reading inside the window', 'first(messaging_queue_depth, 1h)'],
        'last' => [['last(x, 5m)'], 'Newest reading inside the window', 'last(messaging_queue_depth, 1h)'],
        'range' => [['range(x, 5m)'], 'Highest less lowest inside the window', 'range(messaging_queue_depth, 1h)'],
        'mad' => [['mad(x, 5m)'], 'Median distance from the median inside the window', 'mad(messaging_queue_depth, 1h)'],
        'change' => [['change(x, 5m)'], 'Newest less oldest inside the window', 'change(system_filesystem_usage_bytes, 1d)'],
        'growth' => [
            ['growth(counter, 5m)'],
            'Growth of a counter; a fall is a restart from 0',
            'growth(http_client_requests_total, 5m)',
        ],
        'rate' => [['rate(counter, 5m)'], 'Growth of a counter a second', 'rate(http_client_requests_total, 5m)'],
        'slope' => [['slope(x, 1h)'], 'Least-squares slope, a second', 'slope(system_filesystem_usage_bytes, 6h)'],
        'forecast' => [
            ['forecast(x, 6h, 2d)'],
            'Value so far ahead, on the line through the window',
            'forecast(system_filesystem_usage_bytes, 6h, 2d)',
        ],
        'age' => [['age(x)'], 'Seconds since the newest reading', 'age(backup_last_success_timestamp_seconds)'],
        'missing' => [
            ['missing(x, 10m)'],
            '1 where a series read in the last day has no reading in the window',
            'missing(messaging_queue_depth, 10m)',
        ],
        'top' => [['top(5, x) per label'], 'The highest few series', 'top(5, rate(system_network_io_bytes_total, 5m))'],
        'bottom' => [['bottom(5, x) per label'], 'The lowest few series', 'bottom(3, system_memory_usage_bytes) per site'],
        'outlier' => [
            ['outlier(x) per label'],
            'Distance from the median of the group, in MADs',
            'outlier(system_cpu_utilization_ratio) per service',
        ],
        'abs' => [['abs(x)'], 'Without its sign', 'abs(change(messaging_queue_depth, 5m))'],
        'ceil' => [['ceil(x)'], 'Rounded up', 'ceil(system_load_average)'],
        'floor' => [['floor(x)'], 'Rounded down', 'floor(system_load_average)'],
        'round' => [['round(x)'], 'Rounded to the nearest whole number', 'round(system_load_average)'],
        'sqrt' => [['sqrt(x)'], 'Square root', 'sqrt(messaging_queue_depth)'],
        'ln' => [['ln(x)'], 'Natural logarithm', 'ln(messaging_queue_depth)'],
        'log2' => [['log2(x)'], 'Logarithm to base 2', 'log2(messaging_queue_depth)'],
        'clamp' => [['clamp(x, 0, 1)'], 'Held between two bounds', 'clamp(system_cpu_utilization_ratio, 0, 1)'],
        'baseline' => [
            [
                'baseline(x, median, 14d)',
                'baseline(x, mean, 14d)',
                'baseline(x, ewma, 14d)',
                'baseline(x, same_hour, 14d)',
                'baseline(x, same_weekday, 28d)',
            ],
            'What is usual, from its own past',
            'baseline(messaging_queue_depth, same_hour, 7d)',
        ],
        'deviation' => [
            ['deviation(x, mad, 14d)', 'deviation(x, stddev, 14d)'],
            'Signed distance from the usual, in that unit',
            'deviation(messaging_queue_depth, mad, 7d)',
        ],
        'percentile' => [
            ['percentile(95, histogram, 5m) per label'],
            'Out of the buckets of a histogram',
            'percentile(95, http_server_request_duration_seconds, 5m) per service',
        ],
        'share_below' => [
            ['share_below(0.3, histogram, 5m) per label'],
            'Which part was at or under a bound',
            'share_below(0.3, http_server_request_duration_seconds, 5m)',
        ],
        'voice_quality' => [
            ['voice_quality(latency, jitter, loss)'],
            'Mean opinion score of a call (ITU-T G.107): seconds, seconds, a share',
            'voice_quality(call_latency_seconds, call_jitter_seconds, call_loss_ratio)',
        ],
        'raised' => [
            ['raised("rule")'],
            'Of each alert of a rule: 1 while it is raised, 0 while it is not',
            'raised("Boarding queue") and not (raised("Disk in use") default 0)',
        ],
        'hour' => [['hour("Europe/Lisbon")'], 'Hour of the day there, 0 to 23', 'hour("Europe/Lisbon")'],
        'weekday' => [['weekday("Europe/Lisbon")'], 'Day of the week there, Monday 1 to Sunday 7', 'weekday("Europe/Lisbon")'],
        'now' => [['now()'], 'The instant, in seconds since 1970', 'now() - backup_last_success_timestamp_seconds'],
    ];

    /** @return list<string> */
    public static function names(): array
    {
        return array_keys(self::ALL);
    }

    /** @return list<string> */
    public static function usages(string $function): array
    {
        return self::ALL[$function][0] ?? [];
    }
}
