'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import Decimal from 'decimal.js';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ConnectionView } from '@/contracts/api';
import type { Offers } from '@/contracts/reading-service';
import type { SoundingDetail } from '@/contracts/workbench';
import { ask, post } from '../api';
import { ConfirmDialog } from '../frame/ConfirmDialog';
import { useNotices } from '../frame/Notices';
import { VALUE_FACE } from '../theme';

/** What each tier of the kind's service costs and buys, on the same samples; the cheapest that is good enough is marked. */
export function Tiers({ data, kindKey }: { readonly data: SoundingDetail; readonly kindKey: string }) {
  const { tell, warn } = useNotices();
  const service = data.kindDefinition.services?.[0];
  if (!service || !data.result) return null;
  if (!data.tiers) return <CompareTiers data={data} kindKey={kindKey} service={service.service} />;
  const { scores, cheapest } = data.tiers;
  const take = (tier: string | null) => void post(`/soundings/${data.id}/tier`, { tier }).then(() => tell(tier === null ? 'The draft does without the service.' : `The draft asks for “${tier}”.`), warn);
  return (
    <Box component="section">
      <Box component="h2" sx={{ typography: 'h2', m: 0, mb: 0.5 }}>What {service.service} buys</Box>
      <Box sx={{ color: 'text.secondary', mb: 1, fontSize: 13 }}>{cheapest ? <>Good enough and cheapest: <b>{cheapest.tier ?? 'no service'}</b>. Good enough means no more wrong values among the accepted than wanted, and nearly as many documents straight through as the best way.</> : 'No way is good enough: among the accepted values of each are more wrong ones than wanted.'}</Box>
      <Box sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
        <Table size="small" aria-label="Tiers">
          <TableHead><TableRow><TableCell>Tier</TableCell><TableCell align="right">A page</TableCell><TableCell align="right">Asked for</TableCell><TableCell align="right">A document, on average</TableCell><TableCell align="right">Values right</TableCell><TableCell align="right">Wrong among accepted</TableCell><TableCell align="right">Straight through</TableCell><TableCell /></TableRow></TableHead>
          <TableBody>
            {scores.map((score) => (
              <TableRow key={score.tier ?? ''} selected={score.tier === cheapest?.tier} sx={{ '& td': { fontFamily: VALUE_FACE } }}>
                <TableCell sx={{ fontFamily: 'inherit !important', fontWeight: score.tier === cheapest?.tier ? 650 : 400 }}>{score.tier ?? 'no service'}{score.tier === service.tier && <Box component="span" sx={{ color: 'text.secondary', fontWeight: 400 }}> · in the draft</Box>}</TableCell>
                <TableCell align="right">{score.price}</TableCell>
                <TableCell align="right">{score.asked}</TableCell>
                <TableCell align="right">{score.costPerDocument}</TableCell>
                <TableCell align="right">{score.right} of {score.all}</TableCell>
                <TableCell align="right">{score.accepted.wrong} of {score.accepted.all}</TableCell>
                <TableCell align="right">{Math.round(score.straightThrough * 100)} %</TableCell>
                <TableCell align="right"><Button sx={{ minHeight: 24, py: 0 }} onClick={() => take(score.tier)}>Use it</Button></TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Box>
    </Box>
  );
}

/** Before services are asked for money, the most that it can come to is said. */
function CompareTiers({ data, kindKey, service }: { readonly data: SoundingDetail; readonly kindKey: string; readonly service: string }) {
  const [asking, setAsking] = useState(false);
  const { data: connections } = useQuery({ queryKey: ['connections'], queryFn: () => ask<ConnectionView[]>('/connections') });
  const router = useRouter();
  const { warn } = useNotices();
  const connection = connections?.find((candidate) => candidate.key === service);
  const offers = connection?.offers as Offers | null | undefined;
  const most = (offers?.tiers ?? []).reduce((sum, tier) => sum.plus(new Decimal(tier.pricePerPage).times(data.all)), new Decimal(0));
  const compare = () => void post<{ id: string }>(`/kinds/${kindKey}/soundings`, { target: { ...data.target, tiers: true } }).then(({ id }) => router.push(`/kinds/${kindKey}/soundings/${id}`), warn);
  return (
    <Box sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
      <Box sx={{ color: 'text.secondary' }}>{connection?.name ?? service} was asked for {data.perSample.filter((sample) => sample.cost > 0).length} of {data.all} samples, {data.result?.cost.toFixed(2)} {offers?.currency ?? ''} in all.</Box>
      <Button variant="outlined" disabled={!offers} onClick={() => setAsking(true)}>Compare its tiers</Button>
      <ConfirmDialog open={asking} title="Compare all tiers on these samples?" text={`The service is asked only for what free readers did not find, and what it has read before is not paid again. For samples of one page it comes to ${most.toFixed(2)} ${offers?.currency ?? ''} at most.`} action="Compare" onClose={() => setAsking(false)} onConfirm={compare} />
    </Box>
  );
}
