import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '@/api/client';

export const useInstruments = () =>
    useQuery({ queryKey: slots.instruments(), queryFn: () => unwrap(api.GET('/api/instruments')), staleTime: 30_000 });

/** What the simulated hand is told. It is simulation and never an instrument. */
export const hand = (message: { do: string } & Record<string, unknown>) => unwrap(api.POST('/api/simulated-bench', { body: message }));
