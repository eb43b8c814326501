import { newProject } from '@arvex/core';
import { randomUUID } from 'node:crypto';
import { QueryTypes } from 'sequelize';
import { openGround } from '../../src/ground/ground';
import { orderOf, ownPlaces } from '../serve';
import { keepsTheContract, LEASE_S } from './contract';

keepsTheContract('the one in our own database', async () => {
  const places = await ownPlaces();
  const ground = await openGround({ ...places, leaseSeconds: LEASE_S });
  const { sequelize, queue } = ground;
  const [projectId, sequence] = [randomUUID(), randomUUID()];
  await ground.projects.create(newProject({ project: projectId, set: randomUUID(), sequence }, 'Saltmarsh Light'));
  let version = 0;
  return {
    queue,
    render: async (frames, mixOf) => {
      const [renderId, orderId] = [randomUUID(), randomUUID()];
      const given = { projectId, renderId, orderId, frames, mixOf: mixOf ?? null, version: `q${++version}` };
      const replacements = { ...given, what: JSON.stringify(orderOf(sequence)) };
      await sequelize.query(
        `INSERT INTO render_orders (project_id, id, version, what, snapshot) VALUES (:projectId, :orderId, :version, :what, '{}')`,
        { replacements },
      );
      await sequelize.query(
        `INSERT INTO renders (id, project_id, order_id, place, name, title, part, folder, width_px, height_px, rate, first_frame,
           frame_count, state, mix_of) VALUES (:renderId, :projectId, :orderId, 0, :version, 'Cut', '{}', 'v001', 96, 54, '{}', 1001,
           :frames, 'rendering', :mixOf)`,
        { replacements },
      );
      await queue.give({ projectId, renderId, names: Array.from({ length: frames }, (_, i) => `frame.${i}`) });
      return { projectId, renderId };
    },
    stateOf: async (renderId) => {
      const query = 'SELECT state FROM renders WHERE id = :renderId';
      const [row] = await sequelize.query<{ state: string }>(query, {
        type: QueryTypes.SELECT,
        replacements: { renderId },
      });
      return row?.state ?? '';
    },
    empty: async () => {
      await sequelize.query('DELETE FROM renders');
    },
    close: async () => {
      await ground.close();
      await places.leave();
    },
  };
});
