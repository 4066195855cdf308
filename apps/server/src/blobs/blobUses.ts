/**
 * Every reference to stored bytes: project (null for what belongs to none), what it is, hash, and since when. A table that
 * refers to bytes is named here and nowhere else; what is not, is swept.
 */
export const BLOB_USES = `(SELECT * FROM (
  SELECT a."projectId", CASE a.kind WHEN 'mesh' THEN 'meshes' ELSE 'pictures' END AS what, each.hash, r."createdAt"
    FROM asset_revision r JOIN asset a ON a.id = r."assetId",
         unnest(ARRAY[r."originalHash", r."contentHash", r."thumbnailHash"]) AS each(hash)
  UNION ALL
  SELECT s."projectId", 'maps', each.hash, r."createdAt"
    FROM map_revision r JOIN map m ON m.id = r."mapId" JOIN image_set s ON s.id = m."imageSetId",
         unnest(ARRAY[r."dataHash", r."statesHash", r."thumbnailHash"]) AS each(hash)
  UNION ALL
  SELECT "projectId", 'deliveries', report->>'archive', COALESCE("finishedAt", "createdAt")
    FROM run WHERE operation = 'deliver'
  UNION ALL
  SELECT "projectId", 'strokes', hash, "createdAt" FROM stroke
  UNION ALL
  SELECT NULL, 'coatings', hash, "createdAt" FROM coating
  UNION ALL
  SELECT NULL, 'finishes', each.hash, f."createdAt"
    FROM finish f, jsonb_array_elements(f.maps) AS m,
         unnest(ARRAY[m->>'dataHash', m->>'statesHash', m->>'thumbnailHash']) AS each(hash)
) AS every WHERE hash IS NOT NULL)`;
