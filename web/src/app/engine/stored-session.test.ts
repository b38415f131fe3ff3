import fc from 'fast-check';
import { SIMULATED } from './port-choice';
import { readSession, writeSession } from './stored-session';

afterEach(() => localStorage.clear());

test('what is kept of a profile is read again, and of another nothing', () => {
  const session = fc.record({
    bank: fc.nat(40),
    layers: fc.array(fc.string(), { maxLength: 4 }),
    flags: fc.dictionary(fc.string({ minLength: 1 }), fc.boolean(), { maxKeys: 4 }),
    ports: fc.constant({ 'surface:desk': SIMULATED }),
  });
  fc.assert(
    fc.property(session, (one) => {
      writeSession('p', one);
      expect(readSession('p')).toEqual(JSON.parse(JSON.stringify(one)));
      expect(readSession('q')).toEqual({ bank: 0, ports: {}, layers: [], flags: {} });
    }),
  );
});

test('what cannot be read is as good as nothing; a store that is full is no fault', () => {
  fc.assert(
    fc.property(fc.string(), (text) => {
      localStorage.setItem('rondo.session.p', text);
      expect(readSession('p').bank).toBeDefined();
    }),
  );
  const { setItem } = Storage.prototype;
  Storage.prototype.setItem = () => {
    throw new DOMException('full', 'QuotaExceededError');
  };
  expect(() => writeSession('p', readSession('p'))).not.toThrow();
  Storage.prototype.setItem = setItem;
});
