<?php

declare(strict_types=1);

use PhpParser\Node;
use PhpParser\NodeTraverser;
use PhpParser\NodeVisitorAbstract;
use PhpParser\ParserFactory;

// A number of a rule has one named home. Bare numbers inside code are counted folder by folder: the count only falls.

/** Numbers that are arithmetic and no rule: units, halves, percent, seconds of an hour, and what rounds. */
const ARITHMETIC = [0.0, 1.0, 2.0, -1.0, 10.0, 60.0, 100.0, 1000.0, 3600.0];

/** What was left when it was last counted; lower it with every number that finds its home. */
const BARE = [
    '.' => 0,
    'Balance' => 0,
    'Build' => 23,
    'Cell' => 0,
    'Diagnosis' => 218,
    'Fault' => 0,
    'Feature' => 0,
    'Inference' => 0,
    'Limits' => 0,
    'Log' => 48,
    'Maths' => 18,
    'Money' => 0,
    'Pack' => 70,
    'Proof' => 0,
    'Reading' => 89,
    'Record' => 13,
    'Recovery' => 0,
    'Repair' => 0,
    'Run' => 0,
    'Safety' => 0,
    'Schedule' => 0,
    'Shop' => 0,
    'Twin' => 33,
];

/**
 * Bare numbers of a file: not in a constant, an enum case, a default, a rounding, an array of a constant, or the
 * parameters of a law or a chance (which are signatures, and name their source).
 *
 * @return list<string> "line: number"
 */
function bareNumbers(string $file): array
{
    $visitor = new class extends NodeVisitorAbstract {
        /** @var list<string> */
        public array $found = [];

        public function enterNode(Node $node): ?int
        {
            if (
                $node instanceof Node\Const_ ||
                $node instanceof Node\Param ||
                $node instanceof Node\Stmt\EnumCase ||
                $node instanceof Node\PropertyItem ||
                $node instanceof Node\Attribute
            ) {
                return NodeVisitorAbstract::DONT_TRAVERSE_CHILDREN;
            }
            if (
                $node instanceof Node\Expr\MethodCall &&
                $node->name instanceof Node\Identifier &&
                in_array($node->name->toString(), ['bell', 'flat', 'also'], true)
            ) {
                // The law itself: walk on along the chain, past its parameters.
                $this->walk($node->var);

                return NodeVisitorAbstract::DONT_TRAVERSE_CHILDREN;
            }
            if ($node instanceof Node\Stmt\ClassMethod && in_array($node->name->toString(), ['share', 'deadens', 'refusesCharge'], true)) {
                // How often a fault is of its family, and brings a complaint about: numbers of the fault's own file.
                return NodeVisitorAbstract::DONT_TRAVERSE_CHILDREN;
            }
            if (
                ($node instanceof Node\Expr\StaticCall && $node->class instanceof Node\Name && $node->class->getLast() === 'Law') ||
                ($node instanceof Node\Expr\New_ &&
                    $node->class instanceof Node\Name &&
                    in_array($node->class->getLast(), ['Chance', 'RestLaw'], true))
            ) {
                return NodeVisitorAbstract::DONT_TRAVERSE_CHILDREN;
            }
            if (
                $node instanceof Node\Expr\FuncCall &&
                $node->name instanceof Node\Name &&
                in_array(
                    $node->name->toString(),
                    ['round', 'sprintf', 'substr', 'str_pad', 'array_slice', 'intdiv', 'range', 'array_fill'],
                    true,
                )
            ) {
                return NodeVisitorAbstract::DONT_TRAVERSE_CHILDREN;
            }
            if ($node instanceof Node\Expr\ArrayDimFetch && $node->dim instanceof Node\Scalar\Int_) {
                $this->walk($node->var);

                return NodeVisitorAbstract::DONT_TRAVERSE_CHILDREN;
            }
            if (
                ($node instanceof Node\Scalar\Int_ || $node instanceof Node\Scalar\Float_) &&
                !in_array((float) $node->value, ARITHMETIC, true)
            ) {
                $this->found[] = $node->getStartLine() . ': ' . $node->value;
            }

            return null;
        }

        private function walk(Node $node): void
        {
            $t = new NodeTraverser($this);
            $t->traverse([$node]);
        }
    };
    (new NodeTraverser($visitor))->traverse((new ParserFactory())->createForHostVersion()->parse((string) file_get_contents($file)) ?? []);

    return $visitor->found;
}

/** @return array<string, int> by folder under core */
function bareByFolder(): array
{
    $root = dirname(__DIR__, 2) . '/core/';
    $count = [];
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator($root, FilesystemIterator::SKIP_DOTS)) as $file) {
        if ($file->getExtension() === 'php') {
            $folder = explode('/', substr($file->getPathname(), strlen($root)))[0];
            $folder = str_ends_with($folder, '.php') ? '.' : $folder;
            $count[$folder] = ($count[$folder] ?? 0) + count(bareNumbers($file->getPathname()));
        }
    }
    ksort($count);

    return $count;
}

it('has no more bare numbers in any folder of core than when they were last counted', function (): void {
    foreach (bareByFolder() as $folder => $count) {
        expect($count)->toBe(
            BARE[$folder] ?? 0,
            "core/$folder has $count bare numbers: name the new one, or lower the count when one has found its home",
        );
    }
});

it('sees a bare number in code, and none in a constant, a law or a rounding', function (): void {
    $file = tempnam(sys_get_temp_dir(), 'bare');
    file_put_contents(
        $file,
        '<?php final class X { private const A = 3.5; public function y(float $v = 4.0) { $l = Law::over()->bell(0.3, 0.0, ' .
            '0.014)->flat(0.7, -0.6, 0.0); return round($v, 4) > 1.25 * self::A ? new Chance(["a" => 0.7]) : 2 * $v / 60; } }',
    );
    expect(bareNumbers($file))->toBe(['1: 1.25']);
    unlink($file);
});
