import fc from 'fast-check';
import { applied, register } from './register';

const point = fc.tuple(fc.integer({ min: 0, max: 595 }), fc.integer({ min: 0, max: 842 }));

describe(register, () => {
  test('recovers shift, scale and small rotation from points of a warped page', () => {
    fc.assert(fc.property(fc.uniqueArray(point, { minLength: 8, maxLength: 30, selector: String }), fc.double({ min: -0.05, max: 0.05, noNaN: true }), fc.double({ min: 0.9, max: 1.1, noNaN: true }), fc.integer({ min: -30, max: 30 }), (points, angle, scale, shift) => {
      const [a, b] = [scale * Math.cos(angle), scale * Math.sin(angle)];
      const found = register(points.map((from) => ({ from, to: [a * from[0] - b * from[1] + shift, b * from[0] + a * from[1] - shift] })));
      expect(found).not.toBeNull();
      expect([found!.a, found!.b, found!.dx, found!.dy].map((value, index) => Math.abs(value - [a, b, shift, -shift][index]!) < 1e-6)).toEqual([true, true, true, true]);
    }));
  });

  test('leaves pairs out that were matched by mistake', () => {
    const pairs = Array.from({ length: 12 }, (_, index) => ({ from: [index * 40, (index * 67) % 700] as const, to: [index * 40 + 5, ((index * 67) % 700) + 9] as const }));
    const found = register([...pairs, { from: [10, 10], to: [500, 700] }]);
    expect(found).toMatchObject({ matched: 12 });
    expect(applied(found!, [100, 100, 150, 110]).map(Math.round)).toEqual([105, 109, 155, 119]);
  });

  test('says nothing with fewer than five words', () => {
    expect(register([[0, 0], [10, 0], [0, 10], [10, 10]].map(([x = 0, y = 0]) => ({ from: [x, y] as const, to: [x, y] as const })))).toBeNull();
  });
});
