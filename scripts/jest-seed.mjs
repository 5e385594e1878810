// Property tests begin from one seed, so that a run says something about the code and not about luck; SEED=random (or a number) explores.
import fc from 'fast-check';

if (process.env.SEED !== 'random') fc.configureGlobal({ seed: Number(process.env.SEED ?? 20_261) });
