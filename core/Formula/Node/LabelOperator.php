<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

enum LabelOperator: string
{
    case Equals = '=';
    case Differs = '!=';
    case In = 'in';
    case NotIn = 'not in';
    case Like = 'like';
    case Matches = 'matches';
}
