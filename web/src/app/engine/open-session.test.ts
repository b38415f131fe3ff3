import fc from 'fast-check';
import { OpenSession } from './open-session';
import { SIMULATED } from './port-choice';

afterEach(() => localStorage.clear());

const profile = fc.constantFrom('a', 'b');
const step = fc.oneof(
  fc.record({ does: fc.constant('open' as const), profile }),
  fc.record({ does: fc.constant('bank' as const), bank: fc.nat(24) }),
  fc.record({
    does: fc.constant('state' as const),
    layers: fc.subarray(['shift', 'sends']),
    flag: fc.boolean(),
  }),
  fc.record({ does: fc.constant('port' as const), link: fc.constantFrom('surface:x', 'host:y') }),
);

test('over random profiles and changes, each profile is played as it was left', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
      localStorage.clear();
      const session = new OpenSession();
      const told = () => ({
        bank: session.bank,
        ports: session.ports(),
        layers: session.state().layers,
        flags: session.state().flags,
      });
      session.open('a');
      const left: Record<string, unknown> = {
        a: told(),
        b: { bank: 0, ports: {}, layers: [], flags: {} },
      };
      let open = 'a';
      steps.forEach((one, at) => {
        if (one.does === 'open') {
          session.open((open = one.profile));
          expect(told()).toEqual(left[open]);
        } else if (one.does === 'bank') session.keepBank(one.bank);
        else if (one.does === 'state')
          session.keepState({ layers: one.layers, flags: { loud: one.flag } });
        else {
          const input = { id: `${at}`, name: `Port ${at}` };
          session.keepChoice(one.link, { ...SIMULATED, real: true, input });
          expect(session.choiceOf(one.link).input).toEqual(input);
        }
        left[open] = told();
      });
      const other = new OpenSession();
      other.open(open);
      expect(other.bank).toBe(session.bank);
      expect(other.ports()).toEqual(session.ports());
      expect(other.state()).toEqual(session.state());
    }),
  );
});
