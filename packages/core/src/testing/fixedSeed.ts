import fc from 'fast-check';

/** Property tests try the same cases everywhere; FC_SEED=… tries others. */
fc.configureGlobal({ seed: Number(process.env['FC_SEED'] ?? 20261124) });
